namespace DuneCrate.Store;

/// <summary>Which entries of the history are asked for; null for all.</summary>
/// <param name="Show">Code of the show.</param>
/// <param name="Shot">Code of the shot.</param>
/// <param name="Who">Name of the person.</param>
/// <param name="Kind">Kind of thing.</param>
/// <param name="Day">The day, UTC.</param>
public sealed record HistoryQuery(string? Show = null, string? Shot = null, string? Who = null, string? Kind = null, DateOnly? Day = null);

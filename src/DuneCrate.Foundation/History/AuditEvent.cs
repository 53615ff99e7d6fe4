namespace DuneCrate.Foundation.History;

/// <summary>What somebody did, before it has its place in the history.</summary>
/// <param name="Who">Name of the person, or of what acted for them.</param>
/// <param name="Kind">What sort of thing; one of <see cref="HistoryKinds"/>.</param>
/// <param name="Subject">What it was done to, in words.</param>
/// <param name="Show">Code of the show, or null.</param>
/// <param name="Shot">Code of the shot, or null.</param>
/// <param name="Before">What was before, or null.</param>
/// <param name="After">What was after, or null.</param>
public sealed record AuditEvent(
    string Who,
    string Kind,
    string Subject,
    string? Show = null,
    string? Shot = null,
    string? Before = null,
    string? After = null
);

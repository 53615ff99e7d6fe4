namespace DuneCrate.Engine;

/// <summary>A queue at the engine.</summary>
/// <param name="Kind">What waits in it.</param>
/// <param name="Root">Name of the root.</param>
/// <param name="Waiting">Pieces that nobody has.</param>
/// <param name="Taken">Pieces that a worker has.</param>
public sealed record QueueView(WorkKind Kind, string Root, long Waiting, long Taken);

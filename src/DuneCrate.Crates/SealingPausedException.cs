namespace DuneCrate.Crates;

/// <summary>
/// Thrown by whoever is told of the progress of a sealing to put it off: what was written so far is left where it is, and the next sealing
/// under the same word goes on from there.
/// </summary>
public sealed class SealingPausedException() : Exception("The sealing was put off.");

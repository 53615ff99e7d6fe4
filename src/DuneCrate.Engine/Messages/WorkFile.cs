namespace DuneCrate.Engine.Messages;

/// <summary>A file of a piece of work.</summary>
/// <param name="Path">Path below the folder.</param>
/// <param name="Request">Place of what is asked of it.</param>
public sealed record WorkFile(string Path, int Request);

namespace DuneCrate.Shots.Stacking;

/// <summary>A composite that was written as files.</summary>
/// <param name="Name">Name of its folder.</param>
/// <param name="Files">How many files.</param>
/// <param name="Bytes">How large they are together.</param>
/// <param name="Problems">What was left out, a line each.</param>
public sealed record WrittenComposite(string Name, int Files, long Bytes, IReadOnlyList<string> Problems);

namespace DuneCrate.Foundation.Naming;

/// <summary>One file of a sequence.</summary>
/// <param name="Path">Relative path with <c>/</c>.</param>
/// <param name="Frame">The frame number in its name.</param>
/// <param name="Digits">Digits the number was written with, zeros included, sign not.</param>
public readonly record struct SequenceFile(string Path, int Frame, int Digits);

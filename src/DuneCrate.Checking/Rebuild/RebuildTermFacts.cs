namespace DuneCrate.Checking.Rebuild;

/// <summary>One term of a rebuild.</summary>
/// <param name="Name">Name of the term.</param>
/// <param name="Mean">Mean of its samples.</param>
/// <param name="Likeness">Cosine between residual and term, −1..1: near 1 the sum lacks more of this term, near −1 it has too much of
/// it.</param>
public sealed record RebuildTermFacts(string Name, double Mean, double Likeness);

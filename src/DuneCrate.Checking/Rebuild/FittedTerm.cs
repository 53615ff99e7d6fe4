namespace DuneCrate.Checking.Rebuild;

/// <summary>What the fit of a frame says of one term.</summary>
/// <param name="Name">The term.</param>
/// <param name="Gain">What it is to be multiplied by so that the sum of all comes nearest to the beauty; 1 where that cannot be
/// told.</param>
/// <param name="LeftOut">The residual's root mean square when the term is left out, over what it is now; infinity where it is 0
/// now.</param>
/// <param name="IsMadeUp">Whether other terms make it up, so that its gain cannot be told from theirs.</param>
public sealed record FittedTerm(string Name, double Gain, double LeftOut, bool IsMadeUp);

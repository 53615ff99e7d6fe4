namespace DuneCrate.Crates;

/// <summary>The crate cannot be sealed; the message says why and what to do.</summary>
public sealed class CrateRefusedException(string message) : Exception(message);

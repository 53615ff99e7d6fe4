using DuneCrate.Foundation.Storage;

namespace DuneCrate.Crates;

/// <summary>A crate was not sealed, and what had been written of it could not be taken away either; for people.</summary>
/// <param name="why">Why it was not sealed.</param>
/// <param name="left">Where the rest lies.</param>
public sealed class CrateLeftBehindException(Exception why, StoragePath left)
    : IOException($"{why.Message} What had been written could not be taken away and is left in {left}.", why)
{
    /// <summary>Where the rest lies.</summary>
    public StoragePath Left { get; } = left;
}

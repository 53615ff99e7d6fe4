using System.Security.Cryptography;

namespace DuneCrate.Crates.Signing;

/// <summary>Who seals a crate, and the key that signs it.</summary>
/// <param name="By">Name of the person; stands in crate.json and on the slip.</param>
/// <param name="Key">ECDSA key on P-256, or null for a crate that nobody signs.</param>
public sealed record CrateSigner(string By, ECDsa? Key)
{
    /// <summary>Nobody in particular, without a signature.</summary>
    public static readonly CrateSigner Nobody = new("", null);
}

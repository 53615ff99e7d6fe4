using System.Buffers.Text;
using System.Security.Cryptography;
using System.Text;

namespace DuneCrate.Store.Keeping;

/// <summary>Secret words in addresses and headers: given out once, kept as hashes alone.</summary>
public static class SecretWords
{
    private const int Bytes = 32;

    /// <summary>A new secret word: 256 random bits in letters that an address may hold.</summary>
    public static string New() => Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(Bytes));

    /// <summary>What is kept of a secret word.</summary>
    public static string HashOf(string secret) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(secret)));
}

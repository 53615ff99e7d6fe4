using System.Security.Cryptography;
using System.Text;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Crates;

/// <summary>Writes what a crate has beside its pictures, read-only; all of it is flushed to the disk before it is published.</summary>
internal static class CrateText
{
    /// <summary>The rights of everything in a crate: nobody writes to it.</summary>
    public const UnixFileMode ReadOnly = UnixFileMode.UserRead | UnixFileMode.GroupRead | UnixFileMode.OtherRead;

    /// <summary>Writes a text in UTF-8.</summary>
    /// <returns>SHA-256 in lower-case hexadecimal digits.</returns>
    public static string Write(StoragePath path, string text) => Write(path, Encoding.UTF8.GetBytes(text));

    /// <summary>Writes bytes.</summary>
    /// <inheritdoc cref="Write(StoragePath, string)" path="/returns"/>
    public static string Write(StoragePath path, byte[] bytes)
    {
        using FileStream output = path.CreateNew();
        output.Write(bytes);
        File.SetUnixFileMode(output.SafeFileHandle, ReadOnly);
        return Convert.ToHexStringLower(SHA256.HashData(bytes));
    }
}

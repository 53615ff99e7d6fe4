using System.Security.Cryptography;
using System.Text;
using DuneCrate.Core.Storage;

namespace DuneCrate.Core.Crates;

/// <summary>Writes what a crate has beside its pictures: read-only, flushed to the disk.</summary>
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
        Settle(output);
        return Convert.ToHexStringLower(SHA256.HashData(bytes));
    }

    /// <summary>Makes a written file read-only and flushes it to the disk.</summary>
    public static void Settle(FileStream file)
    {
        File.SetUnixFileMode(file.SafeFileHandle, ReadOnly);
        file.Flush(flushToDisk: true);
    }
}

using System.Buffers;
using System.IO.Hashing;
using System.Security.Cryptography;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Crates;

/// <summary>Copies and hashes files in one reading; a copy is read-only.</summary>
internal static class CrateCopy
{
    private const int BufferBytes = 1 << 20;

    /// <summary>Copies a file.</summary>
    /// <param name="from">The file.</param>
    /// <param name="to">Its copy, which must not be there yet; null to hash alone.</param>
    /// <param name="cancel">Stops.</param>
    /// <param name="isLinked">Whether the copy may be a further name of the same file, where the file system has them.</param>
    /// <exception cref="IOException">The disk refuses.</exception>
    /// <remarks>Where the file system can, a copy shares its blocks with the file (a reflink) and nothing is written.</remarks>
    public static (string Sum, byte[] Content, long Bytes) Copy(
        StoragePath from,
        StoragePath? to,
        CancellationToken cancel,
        bool isLinked = false
    )
    {
        byte[] buffer = ArrayPool<byte>.Shared.Rent(BufferBytes);
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var content = new XxHash128();
        try
        {
            using StorageFile input = from.Open();
            using FileStream? output = to is null || isLinked && to.TryLinkTo(input) ? null : to.CreateNew();
            bool isThere = output is null || Posix.TryClone(output.SafeFileHandle, input.Handle);
            long copied = 0;
            for (int read; (read = RandomAccess.Read(input.Handle, buffer.AsSpan(0, BufferBytes), copied)) > 0; copied += read)
            {
                cancel.ThrowIfCancellationRequested();
                hash.AppendData(buffer, 0, read);
                content.Append(buffer.AsSpan(0, read));
                if (!isThere)
                {
                    output!.Write(buffer, 0, read);
                }
            }

            if (output is not null)
            {
                File.SetUnixFileMode(output.SafeFileHandle, CrateText.ReadOnly);
            }

            return (Convert.ToHexStringLower(hash.GetHashAndReset()), content.GetCurrentHash(), copied);
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }
    }
}

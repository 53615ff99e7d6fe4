using System.Buffers;
using System.Collections.Immutable;
using System.IO.Hashing;
using Microsoft.Win32.SafeHandles;

namespace DuneCrate.Imaging;

/// <summary>
/// XXH3 (128 bit) of a whole file, made of the same bytes that a reader takes from it: blocks that are read on are hashed as they come,
/// what a reader passes over is read at the
/// end. Names the content that facts are about. One thread at a time.
/// </summary>
public sealed class ContentHash
{
    /// <summary>Bytes of a hash.</summary>
    public const int Bytes = 16;

    private const int BlockBytes = 1 << 20;

    private readonly XxHash128 _hash = new();
    private long _end;

    /// <summary>Takes a block that was just read.</summary>
    /// <param name="block">Its bytes.</param>
    /// <param name="offset">Where it stands in the file.</param>
    public void Add(ReadOnlySpan<byte> block, long offset)
    {
        if (offset <= _end && offset + block.Length > _end)
        {
            _hash.Append(block[(int)(_end - offset)..]);
            _end = offset + block.Length;
        }
    }

    /// <summary>Reads what is left of the file and gives the hash.</summary>
    /// <exception cref="IOException">The file cannot be read.</exception>
    public ImmutableArray<byte> Finish(SafeFileHandle file, CancellationToken cancel)
    {
        byte[] block = ArrayPool<byte>.Shared.Rent(BlockBytes);
        try
        {
            for (int read; (read = RandomAccess.Read(file, block, _end)) > 0; )
            {
                cancel.ThrowIfCancellationRequested();
                Add(block.AsSpan(0, read), _end);
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(block);
        }

        return [.. _hash.GetCurrentHash()];
    }
}

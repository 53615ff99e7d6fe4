using System.Buffers;
using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace DuneCrate.Core.Images.Exr;

/// <summary>
/// An OpenEXR file opened for reading. Opening reads the headers and the chunk tables and nothing else; chunks are then read
/// one at a time. An instance belongs to one thread at a time.
/// </summary>
public sealed class ExrFile : IDisposable
{
    private const int FirstRead = 16 << 10;

    private readonly SafeFileHandle _handle;
    private readonly ExrLimits _limits;
    private readonly bool _isMultiPart;
    private readonly long _tablesEnd;
    private byte[] _packed = [], _scratch = [];

    private ExrFile(string path, SafeFileHandle handle, ExrLimits limits)
    {
        (Path, _handle, _limits) = (path, handle, limits);
        Length = RandomAccess.GetLength(handle);
        byte[] buffer = ArrayPool<byte>.Shared.Rent(FirstRead);
        try
        {
            int have = ReadAt(buffer.AsSpan(0, FirstRead), 0);
            while (true)
            {
                var parser = new ExrHeaderParser(path, buffer.AsSpan(0, have), have >= Length, limits);
                try
                {
                    Parts = parser.Parse();
                    _isMultiPart = parser.IsMultiPart;
                    (ChunkTables, _tablesEnd) = ReadChunkTables(parser.End, buffer.AsSpan(0, have));
                    return;
                }
                catch (ExrHeaderParser.NeedsMoreException)
                {
                    byte[] larger = ArrayPool<byte>.Shared.Rent((int)Math.Min(Math.Min(have * 4L, limits.MaxHeaderBytes), Length));
                    ArrayPool<byte>.Shared.Return(buffer);
                    buffer = larger;
                    have = ReadAt(buffer.AsSpan(0, (int)Math.Min(buffer.Length, Length)), 0);
                }
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }
    }

    /// <summary>The file's path.</summary>
    public string Path { get; }

    /// <summary>The file's length in bytes.</summary>
    public long Length { get; }

    /// <summary>The parts, in file order.</summary>
    public ImmutableArray<ExrPart> Parts { get; }

    /// <summary>
    /// For each part the file offset of every chunk, in order of lines. Empty for parts whose chunks this product cannot place
    /// (tiles, deep pixels). Not checked: an offset of a damaged file may be 0 or beyond its end.
    /// </summary>
    public ImmutableArray<ImmutableArray<long>> ChunkTables { get; }

    /// <summary>Opens a file.</summary>
    /// <exception cref="ImageException">The file is not OpenEXR, contradicts itself, ends inside its header, or exceeds the limits.</exception>
    /// <exception cref="IOException">The file cannot be opened or read.</exception>
    /// <exception cref="UnauthorizedAccessException">The file may not be read.</exception>
    public static ExrFile Open(string path, ExrLimits? limits = null)
    {
        SafeFileHandle handle = File.OpenHandle(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete);
        try
        {
            return new ExrFile(path, handle, limits ?? ExrLimits.Default);
        }
        catch
        {
            handle.Dispose();
            throw;
        }
    }

    /// <summary>
    /// The lines of a part (inclusive, in data window coordinates) that cannot be there: their chunk was never written or begins
    /// beyond the end of the file. From the chunk table alone.
    /// </summary>
    public IEnumerable<(int First, int Last)> LinesBeyondEnd(ExrPart part)
    {
        ImmutableArray<long> table = ChunkTables[part.Index];
        for (int i = 0; i < table.Length; i++)
        {
            if (table[i] < _tablesEnd || table[i] >= Length)
            {
                yield return LinesOf(part, i);
            }
        }
    }

    /// <summary>The lines of a chunk, inclusive, in data window coordinates.</summary>
    public static (int First, int Last) LinesOf(ExrPart part, int chunk)
    {
        int first = part.DataWindow.MinY + chunk * part.Compression.LinesPerChunk;
        return (first, Math.Min(first + part.Compression.LinesPerChunk - 1, part.DataWindow.MaxY));
    }

    /// <summary>The chunk that holds a line of the data window.</summary>
    public static int ChunkOfLine(ExrPart part, int y) => (y - part.DataWindow.MinY) / part.Compression.LinesPerChunk;

    /// <summary>
    /// Reads and unpacks one chunk: its lines top first; in each line the channels in file order, each as width samples,
    /// little-endian. <paramref name="lines"/> must hold at least the chunk's lines × <see cref="ExrPart.BytesPerLine"/>; the part
    /// used is returned.
    /// </summary>
    /// <exception cref="ImageException">The chunk is missing, damaged, or of a kind that is not read.</exception>
    public Span<byte> ReadChunk(ExrPart part, int chunk, Span<byte> lines)
    {
        if (part.Unsupported is { } reason)
        {
            throw new ImageException(Path, 0, reason, ImageProblem.Unsupported);
        }

        (int first, int last) = LinesOf(part, chunk);
        int size = checked((int)((last - first + 1) * part.BytesPerLine));
        long offset = ChunkTables[part.Index][chunk];
        if (offset < _tablesEnd || offset >= Length)
        {
            throw Lost(offset, offset <= 0 ? "the chunk was never written" : "the chunk lies beyond the end of the file");
        }

        int headerSize = _isMultiPart ? 12 : 8;
        Span<byte> header = stackalloc byte[12];
        if (ReadAt(header[..headerSize], offset) != headerSize)
        {
            throw Lost(offset, "the file ends inside a chunk");
        }

        header = header[(headerSize - 8)..headerSize];
        int y = BinaryPrimitives.ReadInt32LittleEndian(header), packedSize = BinaryPrimitives.ReadInt32LittleEndian(header[4..]);
        if (y != first || packedSize < 0 || packedSize > size)
        {
            throw Lost(offset, $"the chunk for line {first} says it is line {y} in {packedSize} bytes");
        }

        if (offset + headerSize + packedSize > Length)
        {
            throw Lost(offset, "the file ends inside a chunk");
        }

        if ((long)packedSize * _limits.MaxExpansion < size)
        {
            throw Lost(offset, $"{packedSize} bytes cannot unpack to {size}");
        }

        Span<byte> target = lines[..size];
        bool isRaw = packedSize == size;
        Grow(ref _packed, isRaw ? 0 : packedSize);
        Span<byte> packed = isRaw ? target : _packed.AsSpan(0, packedSize);
        if (ReadAt(packed, offset + headerSize) != packedSize)
        {
            throw Lost(offset, "the file ends inside a chunk");
        }

        if (!isRaw)
        {
            Grow(ref _scratch, size);
            try
            {
                part.Compression.Codec!.Decode(_packed.AsMemory(0, packedSize), target, _scratch.AsSpan(0, size));
            }
            catch (InvalidDataException e)
            {
                throw Lost(offset, e.Message);
            }
        }

        return target;
    }

    /// <summary>Bytes that a buffer for <see cref="ReadChunk"/> must have.</summary>
    /// <exception cref="ImageException">It would exceed the limits.</exception>
    public int ChunkBufferSize(ExrPart part)
    {
        long size = Math.Min(part.Compression.LinesPerChunk, part.DataWindow.Height) * part.BytesPerLine;
        return size <= _limits.MaxChunkBytes ? (int)size : throw new ImageException(Path, 0, $"one chunk would unpack to {size} bytes");
    }

    private ImageException Lost(long offset, string reason) => new(Path, offset, reason, ImageProblem.Truncated);

    private static void Grow(ref byte[] buffer, int size)
    {
        if (buffer.Length < size)
        {
            ArrayPool<byte>.Shared.Return(buffer);
            buffer = ArrayPool<byte>.Shared.Rent(size);
        }
    }

    private (ImmutableArray<ImmutableArray<long>>, long End) ReadChunkTables(long at, ReadOnlySpan<byte> head)
    {
        var tables = ImmutableArray.CreateBuilder<ImmutableArray<long>>(Parts.Length);
        foreach (ExrPart part in Parts)
        {
            int count = part.Type == "scanlineimage" ? part.ChunkCount : part.Find("chunkCount")?.AsInt() ?? 0;
            if (_isMultiPart && part.Find("chunkCount")?.AsInt() != count)
            {
                throw new ImageException(Path, at, $"part {part.Index} says it has {part.Find("chunkCount")?.AsInt()} chunks where {count} belong");
            }

            long size = count * 8L;
            if (count < 0 || at + size > Length)
            {
                throw new ImageException(Path, at, $"the file ends inside its chunk table: {count} chunks are claimed in {Length} bytes", ImageProblem.Truncated);
            }

            long[] table = new long[count];
            Span<byte> bytes = MemoryMarshal.AsBytes(table.AsSpan());
            if (at + size <= head.Length)
            {
                head.Slice((int)at, (int)size).CopyTo(bytes);
            }
            else if (ReadAt(bytes, at) != size)
            {
                throw new ImageException(Path, at, "the file ends inside its chunk table", ImageProblem.Truncated);
            }

            tables.Add(part.Type == "scanlineimage" ? ImmutableCollectionsMarshal.AsImmutableArray(table) : []);
            at += size;
        }

        return (tables.ToImmutable(), at);
    }

    private int ReadAt(Span<byte> buffer, long offset)
    {
        int done = 0;
        while (done < buffer.Length)
        {
            int read = RandomAccess.Read(_handle, buffer[done..], offset + done);
            if (read == 0)
            {
                break;
            }

            done += read;
        }

        return done;
    }

    /// <summary>Closes the file and gives its buffers back.</summary>
    public void Dispose()
    {
        _handle.Dispose();
        ArrayPool<byte>.Shared.Return(_packed);
        ArrayPool<byte>.Shared.Return(_scratch);
        (_packed, _scratch) = ([], []);
    }
}

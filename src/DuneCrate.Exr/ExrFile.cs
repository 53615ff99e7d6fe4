using System.Buffers;
using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace DuneCrate.Exr;

/// <summary>
/// An OpenEXR file opened for reading. Opening reads the headers and the chunk tables and nothing else; chunks are then read
/// one at a time. An instance belongs to one thread at a time.
/// </summary>
public sealed partial class ExrFile : IDisposable
{
    private const int FirstRead = 16 << 10,
        ReadAheadBytes = 1 << 20;

    private readonly SafeFileHandle _file;
    private readonly ReadOnlySpanAction<byte, long>? _blockRead;
    private readonly ExrLimits _limits;
    private readonly bool _isMultiPart;
    private readonly long _tablesEnd;
    private byte[] _ahead = [],
        _scratch = [],
        _tile = [];
    private long _aheadAt;
    private int _aheadLength;

    private ExrFile(SafeFileHandle file, string path, ExrLimits limits, ReadOnlySpanAction<byte, long>? blockRead)
    {
        (_file, Path, Length, _limits, _blockRead) = (file, path, RandomAccess.GetLength(file), limits, blockRead);
        byte[] buffer = ArrayPool<byte>.Shared.Rent(FirstRead);
        try
        {
            int have = ReadAt(buffer.AsSpan(0, (int)Math.Min(FirstRead, Length)), 0);
            while (true)
            {
                var parser = new ExrHeaderParser(path, buffer.AsSpan(0, have), have >= Length, limits);
                try
                {
                    Parts = parser.Parse();
                    _isMultiPart = parser.IsMultiPart;
                    (ChunkTables, _tablesEnd, MendedChunks) = ReadChunkTables(parser.End, buffer.AsSpan(0, have));
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

    /// <summary>The file's path, as problems name it.</summary>
    public string Path { get; }

    /// <summary>The file's length in bytes when it was opened.</summary>
    public long Length { get; }

    /// <summary>The parts, in file order.</summary>
    public ImmutableArray<ExrPart> Parts { get; }

    /// <summary>
    /// For each part the file offset of every chunk, in the order of <see cref="ExrPart.Chunks"/>. Not checked: an offset of a damaged file
    /// may be 0 or beyond its end.
    /// </summary>
    public ImmutableArray<ImmutableArray<long>> ChunkTables { get; }

    /// <summary>Entries of the chunk tables that were missing and were found again by walking the chunks.</summary>
    public int MendedChunks { get; }

    /// <summary>Opens a file.</summary>
    /// <exception cref="ImageException">The file is not OpenEXR, contradicts itself, ends inside its header, or exceeds the
    /// limits.</exception>
    /// <exception cref="IOException">The file cannot be opened or read.</exception>
    /// <exception cref="UnauthorizedAccessException">The file may not be read.</exception>
    public static ExrFile Open(string path, ExrLimits limits)
    {
        SafeFileHandle file = File.OpenHandle(path);
        try
        {
            return Read(file, path, limits);
        }
        catch
        {
            file.Dispose();
            throw;
        }
    }

    /// <summary>Reads the headers and chunk tables of an open file, which is closed with the answer.</summary>
    /// <param name="file">The file.</param>
    /// <param name="path">What problems call it.</param>
    /// <param name="limits">Bounds on what it may claim.</param>
    /// <param name="blockRead">Told every block that is read, and where it stands in the file: whoever hashes a file need not read it
    /// twice.</param>
    /// <inheritdoc cref="Open" path="/exception"/>
    public static ExrFile Read(SafeFileHandle file, string path, ExrLimits limits, ReadOnlySpanAction<byte, long>? blockRead = null) =>
        new(file, path, limits, blockRead);

    /// <summary>
    /// The lines of a part's picture (inclusive, in data window coordinates) that cannot be there: one of their chunks was never written or
    /// begins
    /// beyond the end of the file. From the chunk table alone.
    /// </summary>
    public IEnumerable<(int First, int Last)> LinesBeyondEnd(ExrPart part)
    {
        ImmutableArray<long> table = ChunkTables[part.Index];
        for (int band = 0; band < part.Chunks.BandCount && !table.IsEmpty; band++)
        {
            (int first, int count) = part.Chunks.ChunksOfBand(band);
            if (table.AsSpan(first, count).IndexOfAnyExceptInRange(_tablesEnd, Length - 1) >= 0)
            {
                PixelBox box = part.Chunks.BandBox(band);
                yield return (box.MinY, box.MaxY);
            }
        }
    }

    /// <summary>Bytes of a band: whole lines of every channel.</summary>
    /// <exception cref="ImageException">It would exceed the limits.</exception>
    public int BandBytes(ExrPart part, int band) => Checked(new ExrChunkShape(part, part.Chunks.BandBox(band)).Bytes);

    /// <summary>
    /// Memory that reading a part band by band takes: the band, what it is unpacked through, a row of tiles, and what is read ahead.
    /// </summary>
    /// <exception cref="ImageException">A band would exceed the limits.</exception>
    public long ReadingBytes(ExrPart part) => (part.Tiling is null ? 2L : 4L) * LargestBand(part) + ReadAheadBytes;

    /// <summary>Bytes that a buffer for every band of a part must have.</summary>
    /// <exception cref="ImageException">It would exceed the limits.</exception>
    public int LargestBand(ExrPart part) =>
        BandBytes(part, 0) is var first && part.IsSubsampled && part.Chunks.BandCount > 1 ? Math.Max(first, BandBytes(part, 1)) : first;

    private int Checked(long bytes) =>
        bytes <= _limits.MaxChunkBytes ? (int)bytes : throw new ImageException(Path, 0, $"one chunk would unpack to {bytes} bytes");

    private ImageException Lost(long offset, string reason) => new(Path, offset, reason, ImageProblem.Truncated);

    private static void Grow(ref byte[] buffer, int size)
    {
        if (buffer.Length < size)
        {
            ArrayPool<byte>.Shared.Return(buffer);
            buffer = ArrayPool<byte>.Shared.Rent(size);
        }
    }

    private (ImmutableArray<ImmutableArray<long>>, long End, int Mended) ReadChunkTables(long at, ReadOnlySpan<byte> head)
    {
        long[][] tables = new long[Parts.Length][];
        for (int p = 0; p < Parts.Length; p++)
        {
            ExrPart part = Parts[p];
            if (part.Compression.Codec is null)
            {
                // How many lines a chunk of it has is not known, so that its table can only be passed over.
                tables[p] = [];
                at += 8L * (part.Find("chunkCount")?.AsInt() ?? 0);
                continue;
            }

            int count = part.Chunks.Count;
            if (_isMultiPart && part.Find("chunkCount")?.AsInt() is var said && said != count)
            {
                throw new ImageException(Path, at, $"part {part.Index} says it has {said} chunks where {count} belong");
            }

            long size = count * 8L;
            if (at + size > Length)
            {
                throw new ImageException(
                    Path,
                    at,
                    $"the file ends inside its chunk table: {count} chunks are claimed in {Length} bytes",
                    ImageProblem.Truncated
                );
            }

            tables[p] = new long[count];
            Span<byte> bytes = MemoryMarshal.AsBytes(tables[p].AsSpan());
            if (at + size <= head.Length)
            {
                head.Slice((int)at, (int)size).CopyTo(bytes);
            }
            else if (ReadAt(bytes, at) != size)
            {
                throw new ImageException(Path, at, "the file ends inside its chunk table", ImageProblem.Truncated);
            }

            at += size;
        }

        int mended =
            Parts.All(p => p.Compression.Codec is not null) && tables.Any(t => t.AsSpan().IndexOfAnyExceptInRange(at, Length - 1) >= 0)
                ? ExrChunkTable.Mend(Parts, tables, _isMultiPart, at, Length, (offset, to) => ReadAt(to, offset))
                : 0;
        return ([.. tables.Select(ImmutableCollectionsMarshal.AsImmutableArray)], at, mended);
    }

    /// <summary>Bytes of the file by way of a buffer that is read ahead in large blocks; fewer than asked for at the file's end.</summary>
    private ReadOnlySpan<byte> Ahead(long offset, int count) => AheadMemory(offset, count).Span;

    private ReadOnlyMemory<byte> AheadMemory(long offset, int count)
    {
        if (offset < _aheadAt || offset + count > _aheadAt + _aheadLength)
        {
            int wanted = (int)Math.Min(Math.Max(count, ReadAheadBytes), Math.Max(0, Length - offset));
            Grow(ref _ahead, wanted);
            (_aheadAt, _aheadLength) = (offset, ReadAt(_ahead.AsSpan(0, wanted), offset));
        }

        return _ahead.AsMemory((int)(offset - _aheadAt), Math.Min(count, (int)(_aheadAt + _aheadLength - offset)));
    }

    /// <summary>Large stored chunks go straight to where they belong.</summary>
    private bool ReadInto(Span<byte> target, long offset)
    {
        if (target.Length >= ReadAheadBytes)
        {
            return ReadAt(target, offset) == target.Length;
        }

        ReadOnlySpan<byte> bytes = Ahead(offset, target.Length);
        bytes.CopyTo(target);
        return bytes.Length == target.Length;
    }

    private int ReadAt(Span<byte> buffer, long offset)
    {
        int done = 0;
        while (done < buffer.Length)
        {
            int read = RandomAccess.Read(_file, buffer[done..], offset + done);
            if (read == 0)
            {
                break;
            }

            _blockRead?.Invoke(buffer.Slice(done, read), offset + done);
            done += read;
        }

        return done;
    }

    /// <summary>Closes the file and gives its buffers back.</summary>
    public void Dispose()
    {
        _file.Dispose();
        GiveBuffersBack();
    }

    /// <summary>Gives the buffers back and leaves the file open.</summary>
    public void GiveBuffersBack()
    {
        foreach (byte[] buffer in (byte[][])[_ahead, _scratch, _tile])
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }

        (_ahead, _scratch, _tile) = ([], [], []);
    }
}

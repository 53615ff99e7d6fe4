using System.Buffers;
using System.Buffers.Binary;
using System.Runtime.InteropServices;

namespace DuneCrate.Exr;

/// <summary>
/// Writes a scan-line file chunk by chunk, so that no more than one chunk is in memory. Chunks of parts may come in any order; every chunk
/// must come before <see cref="Finish"/>. Source: <em>OpenEXR File Layout</em>. Belongs to one thread at a time.
/// </summary>
public sealed class ExrChunkWriter : IDisposable
{
    private readonly Stream _stream;
    private readonly IReadOnlyList<ExrPart> _parts;
    private readonly long _tables;
    private readonly long[][] _offsets;
    private byte[] _packed = [],
        _scratch = [];

    /// <summary>Writes the headers, and room for the chunk tables.</summary>
    /// <param name="stream">A seekable stream at its start; it stays open.</param>
    /// <param name="parts">The parts, in the order of <see cref="ExrPart.Index"/>.</param>
    public ExrChunkWriter(Stream stream, IReadOnlyList<ExrPart> parts)
    {
        (_stream, _parts) = (stream, parts);
        stream.Write(ExrHeaderWriter.Write(parts));
        _tables = stream.Position;
        _offsets = [.. parts.Select(p => new long[p.Chunks.Count])];
        stream.Write(new byte[_offsets.Sum(t => t.Length) * 8]);
    }

    /// <summary>Packs and writes a chunk.</summary>
    /// <param name="part">Number of the part.</param>
    /// <param name="index">The chunk.</param>
    /// <param name="lines">Its lines, arranged as <see cref="ExrChunkShape"/> says.</param>
    /// <exception cref="IOException">The disk refuses.</exception>
    public void Write(int part, int index, ReadOnlySpan<byte> lines)
    {
        var shape = new ExrChunkShape(_parts[part], _parts[part].Chunks[index].Box);
        Grow(ref _packed, lines.Length);
        Grow(ref _scratch, lines.Length);
        Span<byte> packed = _packed.AsSpan(0, lines.Length);
        int length = _parts[part].Compression.Codec!.Encode(lines, packed, _scratch.AsSpan(0, lines.Length), shape);
        ReadOnlySpan<byte> data = length < 0 ? lines : packed[..length];
        _offsets[part][index] = _stream.Position;
        Span<byte> head = stackalloc byte[12];
        BinaryPrimitives.WriteInt32LittleEndian(head, part);
        BinaryPrimitives.WriteInt32LittleEndian(head[4..], shape.Box.MinY);
        BinaryPrimitives.WriteInt32LittleEndian(head[8..], data.Length);
        _stream.Write(_parts.Count == 1 ? head[4..] : head);
        _stream.Write(data);
    }

    /// <summary>Writes the chunk tables; the stream stands at its end then.</summary>
    /// <exception cref="IOException">The disk refuses.</exception>
    public void Finish()
    {
        _stream.Position = _tables;
        foreach (long[] table in _offsets)
        {
            _stream.Write(MemoryMarshal.AsBytes(table.AsSpan()));
        }

        _stream.Position = _stream.Length;
    }

    /// <summary>Gives the buffers back.</summary>
    public void Dispose()
    {
        ArrayPool<byte>.Shared.Return(_packed);
        ArrayPool<byte>.Shared.Return(_scratch);
        (_packed, _scratch) = ([], []);
    }

    private static void Grow(ref byte[] buffer, int size)
    {
        if (buffer.Length < size)
        {
            ArrayPool<byte>.Shared.Return(buffer);
            buffer = ArrayPool<byte>.Shared.Rent(size);
        }
    }
}

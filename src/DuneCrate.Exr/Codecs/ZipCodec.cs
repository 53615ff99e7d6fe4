using System.IO.Compression;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// zlib (RFC 1950) over predicted bytes; ZIPS packs one line, ZIP sixteen. Inflating is the platform's own library.
/// </summary>
public sealed class ZipCodec : IExrCodec
{
    /// <summary>
    /// Against level 1 it saves a seventh of the bytes and leaves a file about as large as other programs write it, which use level 4; the
    /// higher ones save another twentieth at most (<c>bench/run levels</c>). Every receiver copies and reads what is packed once.
    /// </summary>
    private static readonly ZLibCompressionOptions Packing = new() { CompressionLevel = 2 };

    /// <inheritdoc/>
    public void Decode(ReadOnlyMemory<byte> packed, Span<byte> lines, Span<byte> scratch, in ExrChunkShape shape)
    {
        InflateAll(packed, scratch, lines.Length);
        BytePrediction.Join(scratch, lines);
    }

    /// <inheritdoc/>
    public void DecodePlanes(ReadOnlyMemory<byte> packed, Span<byte> planes, Span<byte> scratch, in ExrChunkShape shape, IPlaneSink sink)
    {
        InflateAll(packed, scratch, planes.Length);
        PlanarPrediction.Join(scratch, planes, shape, sink);
    }

    private static void InflateAll(ReadOnlyMemory<byte> packed, Span<byte> scratch, int length)
    {
        int read = Inflate.Into(packed, scratch);
        if (read != length)
        {
            throw new InvalidDataException($"the chunk inflates to {read} bytes where {length} belong");
        }
    }

    /// <inheritdoc/>
    public int Encode(ReadOnlySpan<byte> lines, Span<byte> packed, Span<byte> scratch, in ExrChunkShape shape)
    {
        BytePrediction.Split(lines, scratch);
        using var bytes = new MemoryStream(lines.Length / 2 + 64);
        using (var deflate = new ZLibStream(bytes, Packing, leaveOpen: true))
        {
            deflate.Write(scratch);
        }

        if (bytes.Length >= packed.Length)
        {
            return -1;
        }

        bytes.GetBuffer().AsSpan(0, (int)bytes.Length).CopyTo(packed);
        return (int)bytes.Length;
    }
}

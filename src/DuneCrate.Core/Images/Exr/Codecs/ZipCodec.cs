using System.IO.Compression;

namespace DuneCrate.Core.Images.Exr.Codecs;

/// <summary>
/// zlib (RFC 1950) over predicted bytes; ZIPS packs one line, ZIP sixteen. Inflating is the platform's own library.
/// </summary>
public sealed class ZipCodec : IExrCodec
{
    /// <inheritdoc/>
    public void Decode(ReadOnlyMemory<byte> packed, Span<byte> lines, Span<byte> scratch, in ExrChunkShape shape)
    {
        int read = Inflate.Into(packed, scratch);
        if (read != lines.Length)
        {
            throw new InvalidDataException($"the chunk inflates to {read} bytes where {lines.Length} belong");
        }

        BytePrediction.Join(scratch, lines);
    }

    /// <inheritdoc/>
    public int Encode(ReadOnlySpan<byte> lines, Span<byte> packed, Span<byte> scratch, in ExrChunkShape shape)
    {
        BytePrediction.Split(lines, scratch);
        using var bytes = new MemoryStream(lines.Length / 2 + 64);
        using (var deflate = new ZLibStream(bytes, CompressionLevel.Fastest, leaveOpen: true))
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

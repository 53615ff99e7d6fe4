namespace DuneCrate.Exr.Codecs;

/// <summary>Lines as they are.</summary>
public sealed class NoneCodec : IExrCodec
{
    /// <inheritdoc/>
    public void Decode(ReadOnlyMemory<byte> packed, Span<byte> lines, Span<byte> scratch, in ExrChunkShape shape)
    {
        if (packed.Length != lines.Length)
        {
            throw new InvalidDataException($"an uncompressed chunk has {packed.Length} bytes where {lines.Length} belong");
        }

        packed.Span.CopyTo(lines);
    }

    /// <inheritdoc/>
    public int Encode(ReadOnlySpan<byte> lines, Span<byte> packed, Span<byte> scratch, in ExrChunkShape shape) => -1;
}

using System.Buffers;

namespace DuneCrate.Exr.Codecs;

/// <summary>Packs and unpacks the lines of one chunk. Codecs hold no state and may be shared between threads.</summary>
public interface IExrCodec
{
    /// <summary>
    /// Unpacks a chunk into <paramref name="lines"/>, filling it exactly. <paramref name="scratch"/> has the same length and
    /// arbitrary contents. Whatever the packed bytes are, nothing outside the two is written.
    /// </summary>
    /// <exception cref="InvalidDataException">The packed bytes do not make the lines.</exception>
    void Decode(ReadOnlyMemory<byte> packed, Span<byte> lines, Span<byte> scratch, in ExrChunkShape shape);

    /// <summary>
    /// Unpacks a chunk channel after channel, each with all its lines, into <paramref name="planes"/>, and hands every plane to
    /// <paramref name="sink"/>. Nothing is handed on of a chunk that does not unpack. <paramref name="scratch"/> has the same length.
    /// </summary>
    /// <inheritdoc cref="Decode" path="/exception"/>
    void DecodePlanes(ReadOnlyMemory<byte> packed, Span<byte> planes, Span<byte> scratch, in ExrChunkShape shape, IPlaneSink sink)
    {
        byte[] rented = ArrayPool<byte>.Shared.Rent(planes.Length);
        try
        {
            Span<byte> lines = rented.AsSpan(0, planes.Length);
            Decode(packed, lines, scratch, shape);
            PlanarLines.FromLines(lines, planes, shape);
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(rented);
        }

        PlanarLines.Hand(planes, shape, sink);
    }

    /// <summary>How many times as far as DEFLATE alone a packed byte may go, since what is inflated is unpacked further.</summary>
    int ExpansionFactor => 1;

    /// <summary>Whether <see cref="Encode"/> is there.</summary>
    bool CanEncode => true;

    /// <summary>
    /// Packs lines into <paramref name="packed"/>, which is as long as <paramref name="lines"/>. Returns the packed length, or −1
    /// when it would not be shorter; the chunk is then stored as it is.
    /// </summary>
    /// <exception cref="NotSupportedException">This product does not write the compression.</exception>
    int Encode(ReadOnlySpan<byte> lines, Span<byte> packed, Span<byte> scratch, in ExrChunkShape shape);
}

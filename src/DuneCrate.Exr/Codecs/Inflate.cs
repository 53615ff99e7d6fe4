using System.IO.Compression;
using System.Runtime.InteropServices;

namespace DuneCrate.Exr.Codecs;

/// <summary>zlib streams (RFC 1950) in memory: by libdeflate where it is there and wanted, else by the platform's stream.</summary>
internal static class Inflate
{
    /// <summary>The letters abc, stored, with their Adler-32: what a library that may be there is tried on.</summary>
    public static ReadOnlySpan<byte> Trial => [0x78, 0x01, 0x01, 0x03, 0x00, 0xfc, 0xff, 0x61, 0x62, 0x63, 0x02, 0x4d, 0x01, 0x27];

    /// <summary>
    /// Inflates into <paramref name="to"/> until the stream ends; returns the bytes made, one more than fit when there are more. Reading to
    /// the end also checks the stream's checksum.
    /// </summary>
    /// <exception cref="InvalidDataException">The bytes are no zlib stream.</exception>
    public static int Into(ReadOnlyMemory<byte> packed, Span<byte> to)
    {
        if (Libdeflate.IsThere && Libdeflate.Own.Into(packed.Span, to) is >= 0 and var made)
        {
            return made;
        }

        // Streams that are damaged, end too early or hold more than fits: how far they go, and why not farther, the stream tells.
        using var inflate = new ZLibStream(AsStream(packed), CompressionMode.Decompress);
        int read = inflate.ReadAtLeast(to, to.Length, throwOnEndOfStream: false);
        return read == to.Length && inflate.ReadByte() >= 0 ? read + 1 : read;
    }

    /// <summary>Inflates exactly as many bytes as <paramref name="to"/> holds.</summary>
    /// <exception cref="InvalidDataException">The bytes are no zlib stream, or make fewer.</exception>
    public static void Exactly(ReadOnlyMemory<byte> packed, Span<byte> to)
    {
        int made = to.IsEmpty ? 0 : Into(packed, to);
        if (made != to.Length)
        {
            throw new InvalidDataException($"a block inflates to {made} bytes where {to.Length} belong");
        }
    }

    private static MemoryStream AsStream(ReadOnlyMemory<byte> packed) =>
        MemoryMarshal.TryGetArray(packed, out ArraySegment<byte> segment)
            ? new MemoryStream(segment.Array!, segment.Offset, segment.Count, writable: false)
            : new MemoryStream(packed.ToArray(), writable: false);
}

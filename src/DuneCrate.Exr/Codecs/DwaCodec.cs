using System.Buffers;
using System.Buffers.Binary;
using System.Runtime.InteropServices;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// DWAA and DWAB: colour as quantised 8 × 8 cosine transforms of its perceptual curve, alpha as run lengths, everything else as
/// zlib; which channel is what is
/// told by rules on the last part of its name, in the file (version 2) or fixed (older). Read only. The algorithm and its constants are the
/// reference
/// implementation's; there is no other published description.
/// </summary>
public sealed class DwaCodec : IExrCodec
{
    private const int HeaderWords = 11;

    private enum Word
    {
        Version,
        UnknownRaw,
        UnknownPacked,
        AcPacked,
        DcPacked,
        RlePacked,
        RleUnpacked,
        RleRaw,
        AcCount,
        DcCount,
        AcCoding,
    }

    /// <inheritdoc/>
    public bool CanEncode => false;

    /// <inheritdoc/>
    /// <remarks>Two bytes of a flat block make 64 samples of up to 4 bytes.</remarks>
    public int ExpansionFactor => 128;

    /// <inheritdoc/>
    public int Encode(ReadOnlySpan<byte> lines, Span<byte> packed, Span<byte> scratch, in ExrChunkShape shape) =>
        throw new NotSupportedException("DWA is read and not written.");

    /// <inheritdoc/>
    public void Decode(ReadOnlyMemory<byte> packed, Span<byte> lines, Span<byte> scratch, in ExrChunkShape shape)
    {
        Unpack(packed, scratch[..lines.Length], shape);
        PlanarLines.ToLines(scratch[..lines.Length], lines, shape);
    }

    /// <inheritdoc/>
    public void DecodePlanes(ReadOnlyMemory<byte> packed, Span<byte> planes, Span<byte> scratch, in ExrChunkShape shape, IPlaneSink sink)
    {
        Unpack(packed, planes, shape);
        PlanarLines.Hand(planes, shape, sink);
    }

    private static void Unpack(ReadOnlyMemory<byte> packed, Span<byte> planes, in ExrChunkShape shape)
    {
        ReadOnlySpan<byte> head = packed.Span;
        Span<long> words = stackalloc long[HeaderWords];
        if (head.Length < HeaderWords * 8)
        {
            throw new InvalidDataException("a DWA chunk ends inside its header");
        }

        for (int i = 0; i < HeaderWords; i++)
        {
            words[i] = BinaryPrimitives.ReadInt64LittleEndian(head[(8 * i)..]);
            if (words[i] < 0 || words[i] > int.MaxValue)
            {
                throw new InvalidDataException("a DWA chunk claims impossible sizes");
            }
        }

        int at = HeaderWords * 8;
        DwaRules rules = DwaRules.Legacy;
        if (words[(int)Word.Version] == 2)
        {
            rules = DwaRules.Read(head[at..], out int used);
            at += used;
        }
        else if (words[(int)Word.Version] > 2)
        {
            throw new InvalidDataException($"a DWA chunk has version {words[(int)Word.Version]}, which is newer than this product");
        }

        var plan = DwaPlan.Create(shape, rules);
        ReadOnlyMemory<byte> unknown = Slice(packed, ref at, words[(int)Word.UnknownPacked]),
            ac = Slice(packed, ref at, words[(int)Word.AcPacked]),
            dc = Slice(packed, ref at, words[(int)Word.DcPacked]),
            rle = Slice(packed, ref at, words[(int)Word.RlePacked]);
        if (
            words[(int)Word.UnknownRaw] != plan.UnknownBytes
            || words[(int)Word.RleRaw] != plan.RleBytes
            || words[(int)Word.DcCount] != plan.Blocks
            || words[(int)Word.AcCount] > 64L * plan.Blocks + plan.Blocks
            || words[(int)Word.RleUnpacked] > 2L * plan.RleBytes + 1024
        )
        {
            throw new InvalidDataException("the sizes in a DWA chunk do not fit its channels");
        }

        using var buffers = new Buffers(
            plan.UnknownBytes,
            (int)words[(int)Word.AcCount],
            plan.Blocks,
            (int)words[(int)Word.RleUnpacked],
            plan.RleBytes
        );
        if (plan.UnknownBytes > 0)
        {
            Inflate.Exactly(unknown, buffers.Unknown);
        }

        if (buffers.Ac.Length > 0)
        {
            if (words[(int)Word.AcCoding] == 0)
            {
                Huffman16Decoder.Decode(ac.Span, MemoryMarshal.Cast<byte, ushort>(buffers.Ac));
            }
            else
            {
                Inflate.Exactly(ac, buffers.Ac);
            }
        }

        if (plan.Blocks > 0)
        {
            Inflate.Exactly(dc, buffers.DcHalves);
            BytePrediction.Join(buffers.DcHalves, buffers.Dc);
        }

        if (plan.RleBytes > 0)
        {
            Inflate.Exactly(rle, buffers.RleUnpacked);
            RleCodec.Expand(buffers.RleUnpacked, buffers.Rle);
        }

        Fill(plan, shape, buffers, planes);
    }

    private static ReadOnlyMemory<byte> Slice(ReadOnlyMemory<byte> packed, ref int at, long length)
    {
        if (length > packed.Length - at)
        {
            throw new InvalidDataException("a DWA chunk ends early");
        }

        ReadOnlyMemory<byte> slice = packed.Slice(at, (int)length);
        at += (int)length;
        return slice;
    }

    private static void Fill(DwaPlan plan, in ExrChunkShape shape, Buffers buffers, Span<byte> planes)
    {
        int[] offsets = PlanarLines.Offsets(shape);
        ReadOnlySpan<ushort> ac = MemoryMarshal.Cast<byte, ushort>(buffers.Ac),
            dc = MemoryMarshal.Cast<byte, ushort>(buffers.Dc);
        int unknown = 0,
            rle = 0;
        foreach (int[] set in plan.Sets)
        {
            DwaBlocks.Decode(shape, set, planes, offsets, ref ac, ref dc);
        }

        for (int c = 0; c < offsets.Length; c++)
        {
            int samples = shape.Samples(c) * shape.LinesOf(c),
                size = shape.Part.Channels[c].Type.Bytes(),
                bytes = samples * size;
            Span<byte> plane = planes.Slice(offsets[c], bytes);
            switch (plan.Schemes[c])
            {
                case DwaScheme.Raw:
                    buffers.Unknown.Slice(unknown, bytes).CopyTo(plane);
                    unknown += bytes;
                    break;
                case DwaScheme.RunLength:
                    // Byte after byte of all samples: first the lowest ones.
                    ReadOnlySpan<byte> from = buffers.Rle.Slice(rle, bytes);
                    for (int b = 0; b < size; b++)
                    {
                        ReadOnlySpan<byte> bytePlane = from.Slice(b * samples, samples);
                        for (int i = 0; i < samples; i++)
                        {
                            plane[i * size + b] = bytePlane[i];
                        }
                    }

                    rle += bytes;
                    break;
                case DwaScheme.Cosine when !plan.IsInSet(c):
                    DwaBlocks.Decode(shape, [c], planes, offsets, ref ac, ref dc);
                    break;
                default:
                    break;
            }
        }
    }

    /// <summary>Rented buffers of one chunk.</summary>
    private sealed class Buffers : IDisposable
    {
        private readonly byte[][] _rented;
        private readonly int[] _lengths;

        public Buffers(int unknown, int ac, int dc, int rleUnpacked, int rle)
        {
            _lengths = [unknown, ac * 2, dc * 2, rleUnpacked, rle, dc * 2];
            _rented = [.. _lengths.Select(l => ArrayPool<byte>.Shared.Rent(Math.Max(1, l)))];
        }

        public Span<byte> Unknown => ScratchOf(0);

        public Span<byte> Ac => ScratchOf(1);

        public Span<byte> Dc => ScratchOf(2);

        public Span<byte> RleUnpacked => ScratchOf(3);

        public Span<byte> Rle => ScratchOf(4);

        public Span<byte> DcHalves => ScratchOf(5);

        private Span<byte> ScratchOf(int i) => _rented[i].AsSpan(0, _lengths[i]);

        public void Dispose() => Array.ForEach(_rented, b => ArrayPool<byte>.Shared.Return(b));
    }
}

using System.Buffers;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// The cosine blocks of DWA: coefficients as halves, first value apart, the others in zigzag order with runs of zeros; inverse transform;
/// from luminance and
/// colour differences (BT.709 weights) to red, green, blue; from the perceptual curve to scene-linear. Arithmetic in binary32, results
/// rounded to half.
/// </summary>
internal static class DwaBlocks
{
    private const ushort EndOfBlock = 0xff00;
    private const float MeanOnly = 3.535536e-01f * 3.535536e-01f;

    /// <summary>
    /// Places of the zigzag order (ITU-T T.81, figure A.6), lines and columns exchanged: the transform begins with the lines, eight of them
    /// side by side.
    /// </summary>
    private static readonly byte[] ZigZag =
    [
        .. new byte[]
        {
            0,
            1,
            8,
            16,
            9,
            2,
            3,
            10,
            17,
            24,
            32,
            25,
            18,
            11,
            4,
            5,
            12,
            19,
            26,
            33,
            40,
            48,
            41,
            34,
            27,
            20,
            13,
            6,
            7,
            14,
            21,
            28,
            35,
            42,
            49,
            56,
            57,
            50,
            43,
            36,
            29,
            22,
            15,
            23,
            30,
            37,
            44,
            51,
            58,
            59,
            52,
            45,
            38,
            31,
            39,
            46,
            53,
            60,
            61,
            54,
            47,
            55,
            62,
            63,
        }.Select(place => (byte)(place % 8 * 8 + place / 8)),
    ];

    /// <summary>Halves as floats.</summary>
    private static readonly float[] Floats = [.. Enumerable.Range(0, 65536).Select(b => (float)BitConverter.UInt16BitsToHalf((ushort)b))];

    /// <summary>
    /// From the perceptual curve to scene-linear, half to half: x^2.2 up to 1, then 9.02501329156^(x − 1); not finite gives 0.
    /// </summary>
    private static readonly ushort[] ToLinear = [.. Enumerable.Range(0, 65536).Select(Linear)];

    /// <summary>
    /// Decodes one channel, or three together, into their planes, and takes what it used off <paramref name="ac"/> and
    /// <paramref name="dc"/>.
    /// </summary>
    /// <exception cref="InvalidDataException">The coefficients end early.</exception>
    public static void Decode(
        in ExrChunkShape shape,
        int[] channels,
        Span<byte> planar,
        int[] offsets,
        ref ReadOnlySpan<ushort> ac,
        ref ReadOnlySpan<ushort> dc
    )
    {
        int width = shape.Samples(channels[0]),
            height = shape.LinesOf(channels[0]),
            across = (width + 7) / 8,
            down = (height + 7) / 8,
            blocks = across * down;
        if (dc.Length < blocks * channels.Length)
        {
            throw new InvalidDataException("the first coefficients of a DWA chunk end early");
        }

        // A line of blocks as floats, channel by channel, each eight lines of whole blocks.
        int pitch = 8 * across;
        float[] rented = ArrayPool<float>.Shared.Rent(channels.Length * 8 * pitch);
        try
        {
            Span<float> rows = rented.AsSpan(0, channels.Length * 8 * pitch),
                block = stackalloc float[64];
            for (int by = 0; by < down; by++)
            {
                for (int bx = 0; bx < across; bx++)
                {
                    for (int c = 0; c < channels.Length; c++)
                    {
                        block.Clear();
                        block[0] = Floats[dc[c * blocks + by * across + bx]];
                        int last = Coefficients(ref ac, block);
                        Span<float> target = rows[(c * 8 * pitch + 8 * bx)..];
                        if (last == 0)
                        {
                            Fill(target, pitch, block[0] * MeanOnly);
                        }
                        else
                        {
                            Inverse(block, target, pitch);
                        }
                    }
                }

                if (channels.Length == 3)
                {
                    ToRgb(rows[..(8 * pitch)], rows.Slice(8 * pitch, 8 * pitch), rows.Slice(16 * pitch, 8 * pitch));
                }

                for (int c = 0; c < channels.Length; c++)
                {
                    ExrChannel channel = shape.Part.Channels[channels[c]];
                    for (int row = 0; row < Math.Min(8, height - 8 * by); row++)
                    {
                        int bytes = channel.Type.Bytes() * width;
                        Store(
                            rows.Slice((c * 8 + row) * pitch, width),
                            planar.Slice(offsets[channels[c]] + (8 * by + row) * bytes, bytes),
                            channel.Type,
                            channels.Length == 3 || !channel.IsPerceptuallyLinear
                        );
                    }
                }
            }
        }
        finally
        {
            ArrayPool<float>.Shared.Return(rented);
        }

        dc = dc[(blocks * channels.Length)..];
    }

    /// <summary>
    /// Reads the other coefficients into their places; returns the place in zigzag order of the last that is not a run, 0 for none.
    /// </summary>
    private static int Coefficients(ref ReadOnlySpan<ushort> ac, scoped Span<float> block)
    {
        int place = 1,
            last = 0,
            used = 0;
        while (place < 64)
        {
            if (used == ac.Length)
            {
                throw new InvalidDataException("the coefficients of a DWA chunk end early");
            }

            ushort value = ac[used++];
            if (value == EndOfBlock)
            {
                break;
            }

            if (value >> 8 == 0xff)
            {
                place += value & 0xff;
                continue;
            }

            last = place;
            block[ZigZag[place++]] = Floats[value];
        }

        ac = ac[used..];
        return last;
    }

    private static void Fill(Span<float> rows, int pitch, float value)
    {
        var all = Vector256.Create(value);
        for (int i = 0; i < 8; i++)
        {
            all.CopyTo(rows[(i * pitch)..]);
        }
    }

    /// <summary>
    /// Inverse 8 × 8 cosine transform: lines, then columns, eight at once. <paramref name="block"/> has a column of coefficients after the
    /// other, <paramref name="rows"/>
    /// gets lines, <paramref name="pitch"/> floats from one to the next.
    /// Benchmark: bench/run pixels.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Inverse(ReadOnlySpan<float> block, Span<float> rows, int pitch)
    {
        Vector256<float> v0 = Vector256.Create(block),
            v1 = Vector256.Create(block[8..]),
            v2 = Vector256.Create(block[16..]),
            v3 = Vector256.Create(block[24..]);
        Vector256<float> v4 = Vector256.Create(block[32..]),
            v5 = Vector256.Create(block[40..]),
            v6 = Vector256.Create(block[48..]),
            v7 = Vector256.Create(block[56..]);
        Inverse8(ref v0, ref v1, ref v2, ref v3, ref v4, ref v5, ref v6, ref v7);
        Transpose(ref v0, ref v1, ref v2, ref v3, ref v4, ref v5, ref v6, ref v7);
        Inverse8(ref v0, ref v1, ref v2, ref v3, ref v4, ref v5, ref v6, ref v7);
        v0.CopyTo(rows);
        v1.CopyTo(rows[pitch..]);
        v2.CopyTo(rows[(2 * pitch)..]);
        v3.CopyTo(rows[(3 * pitch)..]);
        v4.CopyTo(rows[(4 * pitch)..]);
        v5.CopyTo(rows[(5 * pitch)..]);
        v6.CopyTo(rows[(6 * pitch)..]);
        v7.CopyTo(rows[(7 * pitch)..]);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Inverse8(
        ref Vector256<float> v0,
        ref Vector256<float> v1,
        ref Vector256<float> v2,
        ref Vector256<float> v3,
        ref Vector256<float> v4,
        ref Vector256<float> v5,
        ref Vector256<float> v6,
        ref Vector256<float> v7
    )
    {
        // cos(kπ/16) / 2 with the reference implementation's π of 3.14159.
        const float A = 0.353553625f,
            B = 0.490392656f,
            C = 0.46193983f,
            D = 0.415734944f,
            E = 0.277785461f,
            F = 0.191342176f,
            G = 0.0975457303f;
        Vector256<float> alpha0 = C * v2,
            alpha1 = F * v2,
            alpha2 = C * v6,
            alpha3 = F * v6;
        Vector256<float> beta0 = B * v1 + D * v3 + E * v5 + G * v7,
            beta1 = D * v1 - G * v3 - B * v5 - E * v7,
            beta2 = E * v1 - B * v3 + G * v5 + D * v7,
            beta3 = G * v1 - E * v3 + D * v5 - B * v7;
        Vector256<float> theta0 = A * (v0 + v4),
            theta3 = A * (v0 - v4),
            theta1 = alpha0 + alpha3,
            theta2 = alpha1 - alpha2;
        Vector256<float> gamma0 = theta0 + theta1,
            gamma1 = theta3 + theta2,
            gamma2 = theta3 - theta2,
            gamma3 = theta0 - theta1;
        (v0, v1, v2, v3) = (gamma0 + beta0, gamma1 + beta1, gamma2 + beta2, gamma3 + beta3);
        (v4, v5, v6, v7) = (gamma3 - beta3, gamma2 - beta2, gamma1 - beta1, gamma0 - beta0);
    }

    /// <summary>Exchanges lines and columns of eight by eight: pairs, pairs of pairs, halves.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Transpose(
        ref Vector256<float> v0,
        ref Vector256<float> v1,
        ref Vector256<float> v2,
        ref Vector256<float> v3,
        ref Vector256<float> v4,
        ref Vector256<float> v5,
        ref Vector256<float> v6,
        ref Vector256<float> v7
    )
    {
        if (!Avx.IsSupported)
        {
            Span<Vector256<float>> from = [v0, v1, v2, v3, v4, v5, v6, v7],
                to = stackalloc Vector256<float>[8];
            Span<float> all = MemoryMarshal.Cast<Vector256<float>, float>(from),
                across = MemoryMarshal.Cast<Vector256<float>, float>(to);
            for (int i = 0; i < 64; i++)
            {
                across[i] = all[i % 8 * 8 + i / 8];
            }

            (v0, v1, v2, v3, v4, v5, v6, v7) = (to[0], to[1], to[2], to[3], to[4], to[5], to[6], to[7]);
            return;
        }

        Vector256<float> a0 = Avx.UnpackLow(v0, v1),
            a1 = Avx.UnpackHigh(v0, v1),
            a2 = Avx.UnpackLow(v2, v3),
            a3 = Avx.UnpackHigh(v2, v3);
        Vector256<float> a4 = Avx.UnpackLow(v4, v5),
            a5 = Avx.UnpackHigh(v4, v5),
            a6 = Avx.UnpackLow(v6, v7),
            a7 = Avx.UnpackHigh(v6, v7);
        Vector256<float> b0 = Avx.Shuffle(a0, a2, 0x44),
            b1 = Avx.Shuffle(a0, a2, 0xee),
            b2 = Avx.Shuffle(a1, a3, 0x44),
            b3 = Avx.Shuffle(a1, a3, 0xee);
        Vector256<float> b4 = Avx.Shuffle(a4, a6, 0x44),
            b5 = Avx.Shuffle(a4, a6, 0xee),
            b6 = Avx.Shuffle(a5, a7, 0x44),
            b7 = Avx.Shuffle(a5, a7, 0xee);
        (v0, v4) = (Avx.Permute2x128(b0, b4, 0x20), Avx.Permute2x128(b0, b4, 0x31));
        (v1, v5) = (Avx.Permute2x128(b1, b5, 0x20), Avx.Permute2x128(b1, b5, 0x31));
        (v2, v6) = (Avx.Permute2x128(b2, b6, 0x20), Avx.Permute2x128(b2, b6, 0x31));
        (v3, v7) = (Avx.Permute2x128(b3, b7, 0x20), Avx.Permute2x128(b3, b7, 0x31));
    }

    /// <summary>Luminance and colour differences to red, green, blue, in place; whole vectors.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void ToRgb(Span<float> first, Span<float> second, Span<float> third)
    {
        for (int i = 0; i < first.Length; i += Vector256<float>.Count)
        {
            Vector256<float> y = Vector256.Create<float>(first[i..]),
                cb = Vector256.Create<float>(second[i..]),
                cr = Vector256.Create<float>(third[i..]);
            (y + 1.5747f * cr).CopyTo(first[i..]);
            (y - 0.1873f * cb - 0.4682f * cr).CopyTo(second[i..]);
            (y + 1.8556f * cb).CopyTo(third[i..]);
        }
    }

    /// <summary>Rounds a line to half and brings it to scene-linear where it is curved.</summary>
    private static void Store(ReadOnlySpan<float> line, Span<byte> to, ExrPixelType type, bool isCurved)
    {
        Span<ushort> halves =
            type == ExrPixelType.Half ? MemoryMarshal.Cast<byte, ushort>(to) : MemoryMarshal.Cast<byte, ushort>(to)[line.Length..];
        HalfLine.FromFloats(line, halves);
        if (isCurved)
        {
            PlanarLines.LookUp(halves, halves, ToLinear);
        }

        // The halves stand in the upper half of the line: each float is written below those still to be read.
        if (type != ExrPixelType.Half)
        {
            Span<float> floats = MemoryMarshal.Cast<byte, float>(to);
            for (int i = 0; i < floats.Length; i++)
            {
                floats[i] = Floats[halves[i]];
            }
        }
    }

    private static ushort Linear(int bits)
    {
        float value = (float)BitConverter.UInt16BitsToHalf((ushort)bits);
        if (bits == 0 || !float.IsFinite(value))
        {
            return 0;
        }

        float size = MathF.Abs(value),
            sign = value < 0 ? -1 : 1;
        float linear = size <= 1 ? MathF.Pow(size, 2.2f) : MathF.Pow(9.02501329156f, size - 1);
        return BitConverter.HalfToUInt16Bits((Half)(sign * linear));
    }
}

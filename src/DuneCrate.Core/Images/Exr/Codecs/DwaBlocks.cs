using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Images.Exr.Codecs;

/// <summary>
/// The cosine blocks of DWA: coefficients as halves, first value apart, the others in zigzag order with runs of zeros; inverse transform; from luminance and
/// colour differences (BT.709 weights) to red, green, blue; from the perceptual curve to scene-linear. Arithmetic in binary32, results rounded to half.
/// </summary>
internal static class DwaBlocks
{
    private const ushort EndOfBlock = 0xff00;
    private const float MeanOnly = 3.535536e-01f * 3.535536e-01f;

    /// <summary>Places of the zigzag order (ITU-T T.81, figure A.6).</summary>
    private static readonly byte[] ZigZag =
    [
        0, 1, 8, 16, 9, 2, 3, 10, 17, 24, 32, 25, 18, 11, 4, 5, 12, 19, 26, 33, 40, 48, 41, 34, 27, 20, 13, 6, 7, 14, 21, 28,
        35, 42, 49, 56, 57, 50, 43, 36, 29, 22, 15, 23, 30, 37, 44, 51, 58, 59, 52, 45, 38, 31, 39, 46, 53, 60, 61, 54, 47, 55, 62, 63,
    ];

    /// <summary>Halves as floats.</summary>
    private static readonly float[] Floats = [.. Enumerable.Range(0, 65536).Select(b => (float)BitConverter.UInt16BitsToHalf((ushort)b))];

    /// <summary>From the perceptual curve to scene-linear, half to half: x^2.2 up to 1, then 9.02501329156^(x − 1); not finite gives 0.</summary>
    private static readonly ushort[] ToLinear = [.. Enumerable.Range(0, 65536).Select(Linear)];

    /// <summary>
    /// Decodes one channel, or three together, into their planes, and takes what it used off <paramref name="ac"/> and <paramref name="dc"/>.
    /// </summary>
    /// <exception cref="InvalidDataException">The coefficients end early.</exception>
    public static void Decode(in ExrChunkShape shape, int[] channels, Span<byte> planar, int[] offsets, ref ReadOnlySpan<ushort> ac, ref ReadOnlySpan<ushort> dc)
    {
        int width = shape.Samples(channels[0]), height = shape.LinesOf(channels[0]), across = (width + 7) / 8, down = (height + 7) / 8, blocks = across * down;
        if (dc.Length < blocks * channels.Length)
        {
            throw new InvalidDataException("the first coefficients of a DWA chunk end early");
        }

        Span<float> values = stackalloc float[3 * 64];
        Span<float> block = stackalloc float[64];
        for (int by = 0; by < down; by++)
        {
            for (int bx = 0; bx < across; bx++)
            {
                bool isFlat = true;
                for (int c = 0; c < channels.Length; c++)
                {
                    Span<float> target = values.Slice(64 * c, 64);
                    float first = Floats[dc[c * blocks + by * across + bx]];
                    block.Clear();
                    block[0] = first;
                    int last = Coefficients(ref ac, block);
                    if (last == 0)
                    {
                        target.Fill(first * MeanOnly);
                    }
                    else
                    {
                        isFlat = false;
                        Inverse(block);
                        block.CopyTo(target);
                    }
                }

                if (channels.Length == 3)
                {
                    ToRgb(values, isFlat ? 1 : 64);
                    if (isFlat)
                    {
                        for (int c = 0; c < 3; c++)
                        {
                            values.Slice(64 * c, 64).Fill(values[64 * c]);
                        }
                    }
                }

                for (int c = 0; c < channels.Length; c++)
                {
                    Store(values.Slice(64 * c, 64), shape.Part.Channels[channels[c]], planar[offsets[channels[c]]..], width, bx * 8, by * 8, Math.Min(8, width - bx * 8), Math.Min(8, height - by * 8), channels.Length == 3);
                }
            }
        }

        dc = dc[(blocks * channels.Length)..];
    }

    /// <summary>Reads the other coefficients into their places; returns the place in zigzag order of the last that is not a run, 0 for none.</summary>
    private static int Coefficients(ref ReadOnlySpan<ushort> ac, scoped Span<float> block)
    {
        int place = 1, last = 0, used = 0;
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

    /// <summary>Inverse 8 × 8 cosine transform in place: lines, then columns.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Inverse(Span<float> data)
    {
        for (int i = 0; i < 8; i++)
        {
            Inverse8(data, 8 * i, 1);
        }

        for (int i = 0; i < 8; i++)
        {
            Inverse8(data, i, 8);
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Inverse8(Span<float> data, int at, int step)
    {
        // cos(kπ/16) / 2 with the reference implementation's π of 3.14159.
        const float A = 0.353553625f, B = 0.490392656f, C = 0.46193983f, D = 0.415734944f, E = 0.277785461f, F = 0.191342176f, G = 0.0975457303f;
        float v0 = data[at], v1 = data[at + step], v2 = data[at + 2 * step], v3 = data[at + 3 * step], v4 = data[at + 4 * step], v5 = data[at + 5 * step], v6 = data[at + 6 * step], v7 = data[at + 7 * step];
        float alpha0 = C * v2, alpha1 = F * v2, alpha2 = C * v6, alpha3 = F * v6;
        float beta0 = B * v1 + D * v3 + E * v5 + G * v7, beta1 = D * v1 - G * v3 - B * v5 - E * v7, beta2 = E * v1 - B * v3 + G * v5 + D * v7, beta3 = G * v1 - E * v3 + D * v5 - B * v7;
        float theta0 = A * (v0 + v4), theta3 = A * (v0 - v4), theta1 = alpha0 + alpha3, theta2 = alpha1 - alpha2;
        float gamma0 = theta0 + theta1, gamma1 = theta3 + theta2, gamma2 = theta3 - theta2, gamma3 = theta0 - theta1;
        data[at] = gamma0 + beta0;
        data[at + step] = gamma1 + beta1;
        data[at + 2 * step] = gamma2 + beta2;
        data[at + 3 * step] = gamma3 + beta3;
        data[at + 4 * step] = gamma3 - beta3;
        data[at + 5 * step] = gamma2 - beta2;
        data[at + 6 * step] = gamma1 - beta1;
        data[at + 7 * step] = gamma0 - beta0;
    }

    private static void ToRgb(Span<float> values, int count)
    {
        for (int i = 0; i < count; i++)
        {
            float y = values[i], cb = values[64 + i], cr = values[128 + i];
            values[i] = y + 1.5747f * cr;
            values[64 + i] = y - 0.1873f * cb - 0.4682f * cr;
            values[128 + i] = y + 1.8556f * cb;
        }
    }

    private static void Store(ReadOnlySpan<float> block, ExrChannel channel, Span<byte> plane, int width, int x, int y, int columns, int rows, bool inSet)
    {
        bool isCurved = inSet || !channel.IsPerceptuallyLinear;
        for (int row = 0; row < rows; row++)
        {
            for (int column = 0; column < columns; column++)
            {
                ushort half = BitConverter.HalfToUInt16Bits((Half)block[8 * row + column]);
                half = isCurved ? ToLinear[half] : half;
                int at = (y + row) * width + x + column;
                if (channel.Type == ChannelType.Half)
                {
                    MemoryMarshal.Write(plane[(2 * at)..], half);
                }
                else
                {
                    MemoryMarshal.Write(plane[(4 * at)..], Floats[half]);
                }
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

        float size = MathF.Abs(value), sign = value < 0 ? -1 : 1;
        float linear = size <= 1 ? MathF.Pow(size, 2.2f) : MathF.Pow(9.02501329156f, size - 1);
        return BitConverter.HalfToUInt16Bits((Half)(sign * linear));
    }
}

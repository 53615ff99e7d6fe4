using System.Buffers.Binary;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// A tiny picture to tell whether the picture moves, and samples of its noise to tell whether that does. The noise is what the second
/// difference across and down leaves (J. Immerkær, Fast Noise Variance Estimation, 1996): slopes and straight edges vanish in it.
/// </summary>
internal sealed class PictureMeasure(int[] colour, int width, int height) : PassMeasure
{
    /// <summary>Samples of noise in each block: four on each of two lines.</summary>
    public const int NoisePerBlock = 8;

    /// <summary>What 127 stands for.</summary>
    public const float NoiseRange = 0.25f;

    /// <summary>What 255 stands for, over the block's brightness.</summary>
    public const float SmoothRange = 4;

    /// <summary>The root of the sum of squares of the kernel 1 −2 1 by 1 −2 1: with it noise keeps its own deviation.</summary>
    private const float KernelNorm = 6;

    private readonly BlockSums _red = new(width, height),
        _green = new(width, height),
        _blue = new(width, height);
    private readonly float[] _noise = new float[BlockSums.Across * BlockSums.Down * NoisePerBlock],
        _smooth = new float[BlockSums.Across * BlockSums.Down * NoisePerBlock];
    private readonly float[][] _last = [new float[width], new float[width]];
    private readonly int[] _lastRow = [-1, -1];

    public override IEnumerable<int> Needs => colour;

    /// <summary>Whether a picture has the sizes that this measure makes.</summary>
    public static bool IsPossible(PictureFacts picture) =>
        picture.Blocks.Length == 2 * BlockSums.Across * BlockSums.Down
        && picture.Noise.Length == BlockSums.Across * BlockSums.Down * NoisePerBlock
        && picture.Smooth.Length == picture.Noise.Length;

    public override void AddLine(ScanLine line)
    {
        _red.Add(line[colour[0]], line.Row);
        _green.Add(line[colour[1]], line.Row);
        _blue.Add(line[colour[2]], line.Row);
        float[] green = line[colour[1]];
        if (Half(line.Row - 1) is { } middle && _lastRow[0] == line.Row - 2 && _lastRow[1] == line.Row - 1)
        {
            Take(middle.Row, middle.Half, _last[0], _last[1], green);
        }

        if (Half(line.Row) is not null || Half(line.Row + 1) is not null)
        {
            (_last[0], _last[1]) = (_last[1], _last[0]);
            green.AsSpan(0, width).CopyTo(_last[1]);
            (_lastRow[0], _lastRow[1]) = (_lastRow[1], line.Row);
        }
    }

    /// <summary>Of the lines of a row of blocks the two that noise is taken from; null for the others.</summary>
    private (int Row, int Half)? Half(int line)
    {
        if (line < 0 || line >= height)
        {
            return null;
        }

        int row = _green.RowOf(line),
            within = line - (int)(((long)row * height + BlockSums.Down - 1) / BlockSums.Down),
            perRow = Math.Max(1, height / BlockSums.Down);
        return within == perRow / 3 ? (row, 0)
            : within == perRow * 2 / 3 ? (row, 1)
            : null;
    }

    private void Take(int row, int half, float[] above, float[] at, float[] below)
    {
        for (int column = 0; column < BlockSums.Across; column++)
        {
            int from = _green.FirstX(column),
                across = _green.FirstX(column + 1) - from;
            for (int k = 0; k < NoisePerBlock / 2; k++)
            {
                int x = from + (2 * k + 1) * across / NoisePerBlock;
                if (x > 0 && x < width - 1)
                {
                    int i = (row * BlockSums.Across + column) * NoisePerBlock + half * NoisePerBlock / 2 + k;
                    float corners = above[x - 1] + above[x + 1] + below[x - 1] + below[x + 1],
                        sides = above[x] + below[x] + at[x - 1] + at[x + 1];
                    _noise[i] = (corners - 2 * sides + 4 * at[x]) / KernelNorm;
                    _smooth[i] = (corners + sides + at[x]) / 9;
                }
            }
        }
    }

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics)
    {
        byte[] blocks = new byte[2 * BlockSums.Across * BlockSums.Down],
            noise = new byte[_noise.Length],
            smooth = new byte[_smooth.Length];
        for (int b = 0; b < BlockSums.Across * BlockSums.Down; b++)
        {
            BinaryPrimitives.WriteHalfLittleEndian(blocks.AsSpan(2 * b), (Half)((_red.Mean(b) + _green.Mean(b) + _blue.Mean(b)) / 3));
            float bright = (float)Math.Max(Math.Abs(_green.Mean(b)), 1e-4);
            for (int k = b * NoisePerBlock; k < (b + 1) * NoisePerBlock; k++)
            {
                noise[k] = (byte)(sbyte)MathF.Round(Share(_noise[k], bright, -NoiseRange, NoiseRange) / NoiseRange * 127);
                smooth[k] = (byte)MathF.Round(Share(_smooth[k], bright, 0, SmoothRange) / SmoothRange * 255);
            }
        }

        return facts with
        {
            Picture = new PictureFacts(blocks, noise, smooth),
        };
    }

    private static float Share(float value, float bright, float least, float most) =>
        float.IsFinite(value) ? Math.Clamp(value / bright, least, most) : 0;
}

using System.Buffers.Binary;
using DuneCrate.Core.Images.Statistics;

namespace DuneCrate.Core.Intake.Measures;

/// <summary>A tiny picture to tell whether the picture moves, and samples of its noise to tell whether that does.</summary>
internal sealed class PictureMeasure(int[] colour, int width, int height) : PassMeasure
{
    /// <summary>Samples of noise in each block: four on each of two lines.</summary>
    public const int NoisePerBlock = 8;

    /// <summary>What 127 stands for.</summary>
    public const float NoiseRange = 0.25f;

    private readonly BlockSums _red = new(width, height),
        _green = new(width, height),
        _blue = new(width, height);
    private readonly float[] _noise = new float[BlockSums.Across * BlockSums.Down * NoisePerBlock];

    public override IEnumerable<int> Needs => colour;

    public override void AddLine(ScanLine line)
    {
        _red.Add(line[colour[0]], line.Row);
        _green.Add(line[colour[1]], line.Row);
        _blue.Add(line[colour[2]], line.Row);
        int row = _green.RowOf(line.Row),
            first = (int)(((long)row * height + BlockSums.Down - 1) / BlockSums.Down);
        int perRow = Math.Max(1, height / BlockSums.Down),
            within = line.Row - first;
        int half =
            within == perRow / 3 ? 0
            : within == perRow * 2 / 3 ? 1
            : -1;
        if (half < 0)
        {
            return;
        }

        float[] green = line[colour[1]];
        for (int column = 0; column < BlockSums.Across; column++)
        {
            int from = _green.FirstX(column),
                across = _green.FirstX(column + 1) - from;
            for (int k = 0; k < NoisePerBlock / 2; k++)
            {
                int x = from + (2 * k + 1) * across / NoisePerBlock;
                if (x > 0 && x < width - 1)
                {
                    _noise[(row * BlockSums.Across + column) * NoisePerBlock + half * NoisePerBlock / 2 + k] =
                        green[x] - (green[x - 1] + green[x + 1]) / 2;
                }
            }
        }
    }

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics)
    {
        byte[] blocks = new byte[2 * BlockSums.Across * BlockSums.Down],
            noise = new byte[_noise.Length];
        for (int b = 0; b < BlockSums.Across * BlockSums.Down; b++)
        {
            BinaryPrimitives.WriteHalfLittleEndian(blocks.AsSpan(2 * b), (Half)((_red.Mean(b) + _green.Mean(b) + _blue.Mean(b)) / 3));
            float bright = (float)Math.Max(Math.Abs(_green.Mean(b)), 1e-4);
            for (int k = b * NoisePerBlock; k < (b + 1) * NoisePerBlock; k++)
            {
                float share = float.IsFinite(_noise[k]) ? Math.Clamp(_noise[k] / bright, -NoiseRange, NoiseRange) : 0;
                noise[k] = (byte)(sbyte)MathF.Round(share / NoiseRange * 127);
            }
        }

        return facts with
        {
            Picture = new PictureFacts(blocks, noise),
        };
    }
}

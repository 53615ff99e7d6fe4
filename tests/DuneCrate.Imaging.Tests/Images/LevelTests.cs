using System.Runtime.InteropServices;
using CsCheck;
using DuneCrate.Imaging.Colour;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Imaging.Tests.Images;

/// <summary>Percentiles and levels of samples, against what a plain program of the same finds.</summary>
public class LevelTests
{
    [Fact]
    public void Percentiles_are_the_nearest_rank() =>
        Gen.Int[0, 50]
            .Array[1, 300]
            .Sample(values =>
            {
                double[] sorted = [.. values.Select(v => (double)v).Order()];
                var sketch = PercentileSketch.Compute(sorted.GroupBy(v => v).Select(g => (g.Key, g.Count())), values.Length);
                return PercentileSketch
                    .Shares.Select((share, i) => sorted[Math.Max(1, (int)Math.Ceiling(share * sorted.Length)) - 1] == sketch[i])
                    .All(same => same);
            });

    [Fact]
    public void Patterns_of_halves_ascend()
    {
        float[] values = [.. PercentileSketch.AscendingPatterns(0x7bff).Select(p => (float)BitConverter.UInt16BitsToHalf((ushort)p))];
        Assert.Equal(2 * 0x7c00, values.Length);
        Assert.True(values.Zip(values.Skip(1)).All(p => p.First <= p.Second));
    }

    [Fact]
    public void The_bound_from_the_top_leaves_enough_above_it() =>
        Gen.Int[0, 9]
            .Array[64]
            .Sample(counts =>
            {
                int bound = PercentileSketch.BoundFromTop(
                    MemoryMarshal.CreateReadOnlySpan(ref counts[0], counts.Length),
                    counts.Length - 1,
                    20
                );
                return bound == 0 ? counts.Skip(1).Sum() <= 20 : counts.Skip(bound).Sum() > 20 && counts.Skip(bound + 1).Sum() <= 20;
            });

    [Fact]
    public void Every_level_of_eight_bits_lies_on_its_grid_and_half_way_between_on_none()
    {
        for (int k = 0; k < 256; k++)
        {
            Assert.Equal(k, LevelGrid.Linear(k / 255f));
            Assert.Equal(k, LevelGrid.Srgb((float)SrgbCurve.Decode(k / 255d)));
            Assert.Equal(-1, LevelGrid.Linear((k + 0.5f) / 255f));
        }

        Assert.Equal(-1, LevelGrid.Srgb(-0.1f));
        Assert.Equal(-1, LevelGrid.Srgb(float.NaN));
        Assert.InRange(LevelGrid.LinearHalf.Count(on => on), 200, 257);
    }
}

using System.Collections.Immutable;
using DuneCrate.Checking.Pictures;
using DuneCrate.Exr;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Imaging.Tests.Pictures;

/// <summary>Numbers over a box and shares of a pixel's light.</summary>
public class NumbersTests
{
    /// <summary>The NIST Statistical Reference Datasets, NumAcc2: 1.2, then 1.1 and 1.3 in turn; mean 1.2, deviation 0.1.</summary>
    [Fact]
    public void A_box_has_the_certified_mean_and_deviation()
    {
        float[] samples = [1.2f, .. Enumerable.Range(0, 1000).Select(i => i % 2 == 0 ? 1.1f : 1.3f)];
        BoxNumbers numbers = BoxNumbers.Of(samples);
        Assert.Equal((1.2, 0.1), (Math.Round(numbers.Mean, 6), Math.Round(numbers.Deviation * Math.Sqrt(1001 / 1000.0), 6)));
        BoxNumbers odd = BoxNumbers.Of([float.NaN, -1, 3, float.PositiveInfinity]);
        Assert.Equal((-1, 3, 1, 3L), (odd.Min, odd.Max, odd.Mean, odd.Odd));
        Assert.Equal(0, BoxNumbers.Of([]).Mean);
    }

    /// <summary>One bright pixel in one term: it comes first, and only it stands out.</summary>
    [Fact]
    public void The_term_that_makes_a_pixel_odd_comes_first()
    {
        PassPixels Flat(string pass, float value, float middle)
        {
            float[] plane = [.. Enumerable.Repeat(value, 25)];
            plane[12] = middle;
            return new PassPixels(pass, null, PixelBox.OfSize(5, 5), 1, [("R", plane), ("G", plane), ("B", plane)], null);
        }

        ImmutableArray<TermShare> terms = TermShare.Of(
            [new RebuildTerm("diffuse"), new RebuildTerm("specular"), new RebuildTerm("albedo", "irradiance")],
            new Dictionary<string, PassPixels>
            {
                ["diffuse"] = Flat("diffuse", 0.4f, 0.41f),
                ["specular"] = Flat("specular", 0.1f, 2),
                ["albedo"] = Flat("albedo", 0.5f, 0.5f),
                ["irradiance"] = Flat("irradiance", 0.4f, 0.4f),
            },
            2,
            2
        );
        Assert.Equal(["specular", "diffuse", "albedo × irradiance"], terms.Select(t => t.Term));
        Assert.Equal([true, false, false], terms.Select(t => t.StandsOut));
        Assert.Equal(1, terms.Sum(t => t.Share), 6);
        Assert.Equal(0.2 / 0.7, terms[2].AroundShare, 3);
    }

    [Fact]
    public void A_value_is_placed_among_the_frames()
    {
        var samples = new SampleStatistics
        {
            Min = 0,
            Max = 10,
            Percentiles = [0.1, 0.2, 0.3, 1, 2, 3, 4, 5, 6],
        };
        Assert.Equal("above half of the frame", samples.Among(2.5));
        Assert.Equal("above 99.9 % of the frame", samples.Among(7));
        Assert.Equal("the greatest of the frame", samples.Among(10));
        Assert.Equal("among the lowest 0.1 %", samples.Among(0.05));
        Assert.Null(new SampleStatistics().Among(1));
    }
}

using DuneCrate.Checking.Rebuild;

namespace DuneCrate.Checking.Tests.Stacking;

/// <summary>
/// The rebuild, many pixels at once, against pixel by pixel: beauty − Σ terms, its mean as a share of the beauty's, pixels off by
/// more than 2 % of max(beauty, 0.05), the worst place (RULES.md).
/// </summary>
public class RebuildMeasureTests
{
    [Theory]
    [InlineData(1, 1, 1, 1)]
    [InlineData(7, 3, 2, 2)]
    [InlineData(8, 2, 3, 3)]
    [InlineData(61, 9, 6, 4)]
    [InlineData(130, 5, 4, 5)]
    public void A_sum_is_measured_as_by_hand(int width, int height, int terms, int seed)
    {
        var random = new Random(seed);
        float[][][][] light = [.. Enumerable.Range(0, height).Select(_ => Lines(random, terms, width))];
        float[][][] beauty =
        [
            .. light.Select(line =>
                Enumerable
                    .Range(0, 3)
                    .Select(c => Enumerable.Range(0, width).Select(x => line.Sum(t => t[c][x]) * Slip(random)).ToArray())
                    .ToArray()
            ),
        ];
        RebuildFacts facts = Measure(beauty, light, terms, width);

        (double residuals, double sum, double worst, int off) = (0, 0, 0, 0);
        int[]? at = null;
        for (int y = 0; y < height; y++)
        {
            for (int x = 0; x < width; x++)
            {
                bool isOff = false;
                for (int c = 0; c < 3; c++)
                {
                    float residual = beauty[y][c][x];
                    foreach (float[][] term in light[y])
                    {
                        residual -= term[c][x];
                    }

                    residuals += Math.Abs(residual);
                    sum += Math.Abs(beauty[y][c][x]);
                    isOff |= Math.Abs(residual) > 0.02f * Math.Max(beauty[y][c][x], 0.05f);
                    (worst, at) = Math.Abs(residual) > worst ? (Math.Abs(residual), [x - 5, y + 40]) : (worst, at);
                }

                off += isOff ? 1 : 0;
            }
        }

        Assert.Equal(residuals / sum, facts.MeanResidual, 1e-5);
        Assert.Equal((double)off / (width * height), facts.OffShare, 1e-12);
        Assert.Equal(worst, facts.MaxResidual, 1e-6);
        Assert.Equal(
            beauty[at![1] - 40].Select((line, c) => Residual(line, light[at[1] - 40], c, at[0] + 5)).Max(),
            facts.MaxResidual,
            1e-6
        );
    }

    [Fact]
    public void An_exact_sum_leaves_nothing()
    {
        var random = new Random(7);
        float[][][][] light = [Lines(random, 1, 40)];
        RebuildFacts facts = Measure([light[0][0]], light, 1, 40);
        Assert.Equal((0d, 0d, 0d), (facts.MeanResidual, facts.OffShare, facts.MaxResidual));
        Assert.Null(facts.Worst);
    }

    [Fact]
    public void The_term_that_is_missing_from_the_beauty_is_the_guilty_one()
    {
        var random = new Random(11);
        float[][][][] light = [.. Enumerable.Range(0, 30).Select(_ => Lines(random, 3, 90))];
        float[][][] beauty =
        [
            .. light.Select(line =>
                Enumerable.Range(0, 3).Select(c => Enumerable.Range(0, 90).Select(x => line[0][c][x] + line[2][c][x]).ToArray()).ToArray()
            ),
        ];
        RebuildFacts facts = Measure(beauty, light, 3, 90);
        Assert.Equal("term1", facts.Guilty);
        Assert.Equal(1, Math.Abs(facts.Terms[1].Likeness), 1e-3);
    }

    [Fact]
    public void What_is_no_number_is_left_out()
    {
        float[][] line =
        [
            [1, float.NaN, 3, float.PositiveInfinity, 5, 6, 7, 8, 9],
            [1, 2, 3, 4, 5, 6, 7, 8, 9],
            [1, 2, 3, 4, 5, 6, 7, 8, 9],
        ];
        RebuildFacts facts = Measure(
            [line],
            [
                [line],
            ],
            1,
            9
        );
        Assert.Equal((0d, 0d), (facts.MeanResidual, facts.MaxResidual));
    }

    private static float Residual(float[] beauty, float[][][] terms, int colour, int x) =>
        Math.Abs(terms.Aggregate(beauty[x], (left, t) => left - t[colour][x]));

    private static float[][][] Lines(Random random, int terms, int width) =>
        [
            .. Enumerable
                .Range(0, terms)
                .Select(_ =>
                    Enumerable
                        .Range(0, 3)
                        .Select(_ => Enumerable.Range(0, width).Select(_ => random.Next(4) == 0 ? 0 : random.NextSingle()).ToArray())
                        .ToArray()
                ),
        ];

    private static float Slip(Random random) =>
        random.Next(5) switch
        {
            0 => 1.1f,
            1 => 0.99f,
            _ => 1,
        };

    private static RebuildFacts Measure(float[][][] beauty, float[][][][] light, int terms, int width)
    {
        var recipe = new RebuildRecipe(["R", "G", "B"], [.. Enumerable.Range(0, terms).Select(t => new RebuildRecipeTerm($"term{t}", []))]);
        var measure = new RebuildMeasure(recipe, width);
        for (int y = 0; y < beauty.Length; y++)
        {
            measure.AddLine(beauty[y], light[y], -5, 40 + y);
        }

        return measure.Finish();
    }
}

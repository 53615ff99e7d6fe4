using CsCheck;
using DuneCrate.Imaging.Stacking;

namespace DuneCrate.Imaging.Tests.Stacking;

/// <summary>
/// A strip laid over what is below, in lines of every length around the width of a vector. Source: Porter and Duff, <em>Compositing Digital
/// Images</em>, SIGGRAPH 1984: C = A + B (1 − α), for colour that is multiplied by its alpha already, and for alpha.
/// </summary>
public class StripBlendTests
{
    [Fact]
    public void Over_is_that_of_Porter_and_Duff_in_every_pixel_of_lines_of_any_length() =>
        Gen.Select(Gen.Int[1, 35], Gen.Int[0, 1 << 20])
            .Sample(
                (width, seed) =>
                {
                    var random = new Random(seed);
                    float[] Line() => [.. Enumerable.Range(0, width).Select(_ => random.NextSingle() * 2)];
                    float[][] below = [Line(), Line(), Line(), Line()],
                        strip = [Line(), Line(), Line()];
                    float[] alpha = [.. Line().Select(a => a / 2)],
                        ones = [.. Enumerable.Repeat(1f, width)];
                    float[][] expected =
                    [
                        .. below.Zip([.. strip, alpha]).Select(p => p.First.Select((b, i) => b * (1 - alpha[i]) + p.Second[i]).ToArray()),
                    ];
                    float[][] weighted = [.. below.Select(l => (float[])l.Clone())];
                    new StripBlend(width).Line(StackOperation.Over, below, strip, alpha, ones, isWhole: true);
                    new StripBlend(width).Line(StackOperation.Over, weighted, strip, alpha, ones, isWhole: false);
                    return Enumerable
                        .Range(0, 4 * width)
                        .All(i =>
                            Near(below[i % 4][i / 4], expected[i % 4][i / 4]) && Near(weighted[i % 4][i / 4], expected[i % 4][i / 4])
                        );
                },
                iter: 2000
            );

    private static bool Near(float a, float b) => MathF.Abs(a - b) <= 1e-5f;
}

using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Mean of a frame off the running median of 7 by more than 6 scaled median absolute deviations and by more than 2 % (in pictures of few
/// pixels, where single edges weigh more, 5 / √pixels). What another rule says of the same frames is not said twice.
/// </summary>
/// <remarks>Source: median absolute deviation times 1.4826: Rousseeuw and Croux (1993).</remarks>
public sealed class PixelsFlicker : PixelRule
{
    private const int Window = 7;
    private const double EdgeWeight = 5;

    /// <summary>A change of the mean that nobody sees, scene-linear: a pass of a few dim pixels changes by more than its share.</summary>
    private const double Visible = 5e-5;

    private static readonly RuleThreshold Deviations = new("deviations", 6, "scaled median absolute deviations");

    private static readonly RuleThreshold Share = new("share", 0.02, "share of the median");

    public override string Id => "pixels.flicker";

    public override string Title => "Brightness jumps";

    public override Severity Severity => Severity.Warning;

    public override string Question => "The mean of a frame jumps against its neighbours";

    public override ImmutableArray<RuleThreshold> Thresholds => [Deviations, Share];

    public override bool IsSymptom => true;

    /// <inheritdoc/>
    public override EvidenceKind Evidence => EvidenceKind.Pair;

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckedOutput output in context.Outputs)
        {
            foreach (CheckedPass pass in output.Passes.Where(p => p.Definition?.Kind is PassKind.Combined or PassKind.Light))
            {
                CheckedFile[] files = [.. output.ByFrame.Values.Where(f => Colours(pass, f).Any())];
                double[] means = [.. files.Select(f => Colours(pass, f).Average(c => c.Samples.Mean))];
                double least = Math.Max(
                    context.Threshold(this, Share),
                    files.Length == 0 ? 0 : EdgeWeight / Math.Sqrt(Colours(pass, files[0]).First().Samples.Pixels)
                );
                double[] medians = Outliers.RunningMedian(means, Window);
                int[] odd =
                [
                    .. Outliers
                        .Find(means, Window, context.Threshold(this, Deviations), least)
                        .Where(i => Math.Abs(means[i] - medians[i]) > Visible),
                ];
                if (odd.Length > 0)
                {
                    FrameSet frames = FrameSet.From(odd.Select(i => files[i].Frame));
                    double usual = medians[odd[0]];
                    yield return About(
                        output,
                        frames,
                        string.Create(CultureInfo.InvariantCulture, $"mean near {usual:0.####}"),
                        string.Create(CultureInfo.InvariantCulture, $"{means[odd[0]]:0.####}"),
                        string.Create(
                            CultureInfo.InvariantCulture,
                            $"The brightness of {pass.Name} jumps in {At(frames)}: {means[odd[0]]:0.####} where its neighbours are "
                                + $"near {usual:0.####}."
                        ),
                        $"Play it. {Rerender(output, frames)}",
                        RemedyKind.Rerender,
                        pass.Name
                    );
                }
            }
        }
    }
}

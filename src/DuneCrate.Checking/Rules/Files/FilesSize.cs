using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Size off the running median of 9 by more than 6 scaled median absolute deviations (× 1.4826, which makes it a standard deviation for
/// normal data) and by more than a share of the median. What
/// another rule says of the same frames is not said twice.
/// </summary>
/// <remarks>
/// Source: median absolute deviation times 1.4826: Rousseeuw and Croux, Alternatives to the Median Absolute Deviation (1993).
/// </remarks>
public sealed class FilesSize : FileRule
{
    private const int Window = 9;

    private static readonly RuleThreshold Deviations = new("deviations", 6, "scaled median absolute deviations");

    private static readonly RuleThreshold Share = new("share", 0.2, "share of the median");

    public override string Id => "files.size";

    public override string Title => "File size out of line";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Size far from its neighbours";

    public override ImmutableArray<RuleThreshold> Thresholds => [Deviations, Share];

    public override bool IsSymptom => true;

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckedOutput output in context.Outputs)
        {
            CheckedFile[] files = [.. output.ByFrame.Values.Where(f => f.Facts.Trouble == ImageProblem.None)];
            FrameSet odd = FrameSet.From(
                Outliers
                    .Find(
                        [.. files.Select(f => (double)f.Facts.Bytes)],
                        Window,
                        context.Threshold(this, Deviations),
                        context.Threshold(this, Share)
                    )
                    .Select(i => files[i].Frame)
            );
            if (!odd.IsEmpty)
            {
                long usual = files.Select(f => f.Facts.Bytes).Order().ElementAt(files.Length / 2),
                    found = output.ByFrame[odd.First].Facts.Bytes;
                yield return About(
                    output,
                    odd,
                    $"about {usual:N0} bytes",
                    $"{found:N0} bytes",
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{Subject(odd, "is", "are")} far from the size of the neighbours: {found:N0} bytes at frame {odd.First}, "
                            + $"usually {usual:N0}."
                    ),
                    "Open one of them beside its neighbour.",
                    RemedyKind.Look
                );
            }
        }
    }
}

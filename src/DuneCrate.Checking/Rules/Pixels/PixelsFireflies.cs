using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Lone pixels above 8 × the median of their neighbours and above the frame's 99.9th percentile: count and worst. A few mild ones are
/// tolerated; one that is far beyond that percentile never is.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PixelsFireflies : PixelRule
{
    private static readonly RuleThreshold Most = new("pixels", 12, "lone pixels of a frame that are tolerated");

    private static readonly RuleThreshold Single = new("times", 16, "times the 99.9th percentile from which on one pixel is too many");

    public override string Id => "pixels.fireflies";

    public override string Title => "Fireflies";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Lone pixels far brighter than their neighbours";

    public override ImmutableArray<RuleThreshold> Thresholds => [Most, Single];

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.Kind is PassKind.Combined or PassKind.Light
        let bad = output
            .Files.Select(f => (f.Frame, Facts: Measured(pass, f)?.Fireflies))
            .Where(f => f.Facts?.Count > context.Threshold(this, Most) || f.Facts?.Times > context.Threshold(this, Single))
            .ToArray()
        where bad.Length > 0
        let frames = FrameSet.From(bad.Select(f => f.Frame))
        let worst = bad.MaxBy(f => f.Facts!.Worst)
        select About(
            output,
            frames,
            $"at most {context.Threshold(this, Most):0} a frame",
            string.Create(CultureInfo.InvariantCulture, $"up to {bad.Max(f => f.Facts!.Count)}, worst {worst.Facts!.Worst:0.##}"),
            string.Create(
                CultureInfo.InvariantCulture,
                $"Fireflies in {pass.Name}, {At(frames)}: up to {bad.Max(f => f.Facts!.Count)} a frame; the brightest is "
                    + $"{worst.Facts!.Worst:0.##} at {worst.Facts!.At![0]}, {worst.Facts!.At![1]} of frame {worst.Frame}."
            ),
            $"Raise samples or clamp. {Rerender(output, frames)}",
            RemedyKind.Rerender,
            pass.Name
        ) with
        {
            At = worst.Facts!.At,
        };
}

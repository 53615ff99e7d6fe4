using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Samples below −1e-4 in a pass that cannot be negative: light, colour, masks.
/// </summary>
/// <remarks>Source: light adds up and is never below zero; common practice.</remarks>
public sealed class PixelsNegative : PixelRule
{
    private static readonly RuleThreshold Most = new("samples", 0, "negative samples of a frame that are tolerated");

    public override string Id => "pixels.negative";

    public override string Title => "Negative light";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Below −0.0001 in a pass that cannot be negative";

    public override ImmutableArray<RuleThreshold> Thresholds => [Most];

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.IsNonNegative == true
        let bad = output.Files.Where(f => Samples(pass, f).Sum(c => c.Samples.Negative) > context.Threshold(this, Most)).ToArray()
        where bad.Length > 0
        let frames = FrameSet.From(bad.Select(f => f.Frame))
        let least = bad.SelectMany(f => Samples(pass, f)).Min(c => c.Samples.Min)
        select About(
            output,
            frames,
            "0 or more",
            string.Create(CultureInfo.InvariantCulture, $"down to {least:0.####}"),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{pass.Name} is negative in {At(frames)}, down to {least:0.####}: "
                    + $"{bad.Sum(f => Samples(pass, f).Sum(c => c.Samples.Negative)):N0} samples."
            ),
            Rerender(output, frames),
            RemedyKind.Rerender,
            pass.Name
        );
}

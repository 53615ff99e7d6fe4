using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// A share of pixels exactly at 1.0 in a scene-linear pass and none above: a view transform or an integer step was baked in.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PixelsClipped : PixelRule
{
    private static readonly RuleThreshold Piled = new("share", 0.01, "share of pixels at exactly 1");

    public override string Id => "pixels.clipped";

    public override string Title => "Clipped at 1";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Pixels piled up at 1.0 in a scene-linear pass with none above";

    public override ImmutableArray<RuleThreshold> Thresholds => [Piled];

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.Kind is PassKind.Combined or PassKind.Light
        let clipped = output.Files.Where(f => Share(pass, f) > context.Threshold(this, Piled)).ToArray()
        where clipped.Length > 0
        let frames = FrameSet.From(clipped.Select(f => f.Frame))
        let share = clipped.Max(f => Share(pass, f))
        select About(
            output,
            frames,
            "values above 1",
            $"{Words.Percent(share)} of pixels at exactly 1, none above",
            $"{pass.Name} is cut off at 1 in {At(frames)}: {Words.Percent(share)} of pixels lie exactly there and none above. A "
                + $"view transform or an integer step was baked in.",
            Rerender(output, frames),
            RemedyKind.Rerender,
            pass.Name
        );

    private static double Share(CheckedPass pass, CheckedFile file)
    {
        PassSamples colours = Colours(pass, file);
        return !colours.Any() || colours.Any(c => c.Samples.AboveOne > 0) || colours.All(c => c.Samples.Min == c.Samples.Max)
            ? 0
            : colours.Max(c => (double)c.Samples.One / Math.Max(1, c.Samples.Pixels));
    }
}

using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Values between two ids at edges, or ids that are no whole numbers: filtered ids select nothing.
/// </summary>
/// <remarks>Source: a mean of two numbers is a third; common practice.</remarks>
public sealed class IdentityFiltered : PixelRule
{
    private static readonly RuleThreshold Most = new("pixels", 24, "pixels of a frame that may lie in between");

    public override string Id => "identity.filtered";

    public override string Title => "Ids were filtered";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Values between ids at edges";

    public override ImmutableArray<RuleThreshold> Thresholds => [Most];

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.Has(PassMeasures.ObjectIds | PassMeasures.MaterialColours) == true
        let bad = output
            .Files.Select(f => (f.Frame, Ids: Measured(pass, f)?.Ids))
            .Where(f =>
                f.Ids is not null && (f.Ids.Fractional > context.Threshold(this, Most) || f.Ids.Between > context.Threshold(this, Most))
            )
            .ToArray()
        where bad.Length > 0
        let frames = FrameSet.From(bad.Select(f => f.Frame))
        select About(
            output,
            frames,
            "whole ids up to the edge",
            $"{bad.Max(f => Math.Max(f.Ids!.Fractional, f.Ids.Between)):N0} pixels in between",
            $"{pass.Name} has values between ids at edges in {At(frames)}: it was filtered and selects nothing.",
            $"Switch filtering off for it. {Rerender(output, frames)}",
            RemedyKind.Rerender,
            pass.Name
        ) with
        {
            At = bad[0].Ids!.At,
        };
}

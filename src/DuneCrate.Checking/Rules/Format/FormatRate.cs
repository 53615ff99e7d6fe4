using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>The header carries a frame rate and it is another one. Rates are compared as fractions.</summary>
/// <remarks>Source: OpenEXR standard attributes, framesPerSecond; SMPTE ST 2067-21 lists the usual rates.</remarks>
public sealed class FormatRate : FileRule, IReplans
{
    public override string Id => "format.rate";

    public override string Title => "Another frame rate";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A frame rate in the header that is not the plan's";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null
        let planned = output.Planned!.Shot.FrameRate
        from odd in Group(
            output.Readable,
            f => f.Facts.Parts.Select(p => p.FrameRate).FirstOrDefault(r => r is { } rate && rate != planned)
        )
        select About(
            output,
            odd.Frames,
            planned.ToDisplay(),
            odd.Verdict.ToDisplay(),
            $"{Subject(odd.Frames, "says", "say")} {odd.Verdict.ToDisplay()} in the header; the shot is {planned.ToDisplay()}.",
            "Find out which one is right: with a wrong rate everything drifts against sound and edit.",
            RemedyKind.Look
        );

    /// <inheritdoc/>
    public Replan? Replan(ReplanCase at) =>
        at.FirstPart?.FrameRate is { } rate ? at.WithShot(s => s with { FrameRate = rate }, $"the shot runs at {rate.ToDisplay()}") : null;
}

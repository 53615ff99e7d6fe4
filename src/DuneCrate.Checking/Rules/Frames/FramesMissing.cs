using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Frames of the plan with no file. Frames that are there under a slip of the right name belong to <see cref="NamesTemplate"/>.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FramesMissing : FileRule, IReplans
{
    public override string Id => "frames.missing";

    public override string Title => "Frames are missing";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Frames of the plan with no file";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null && !(output.Frames.IsEmpty && output.Misnamed.IsEmpty)
        let missing = output.Planned!.Frames.Except(output.Frames).Except(output.Misnamed)
        where !missing.IsEmpty
        select About(
            output,
            missing,
            output.Planned!.Frames.ToString(),
            output.Frames.ToString(),
            $"{Subject(missing, "is", "are")} missing: {output.Planned!.Frames.LongCount} planned, "
                + $"{output.Frames.Intersect(output.Planned!.Frames).LongCount} found.",
            Rerender(output, missing),
            RemedyKind.Rerender
        );

    /// <inheritdoc/>
    public override FrameState StateOf(Finding finding) => FrameState.Missing;

    /// <inheritdoc/>
    public Replan? Replan(ReplanCase at) => at.WithFrames(at.Planned.Frames.Except(at.Finding.Frames));
}

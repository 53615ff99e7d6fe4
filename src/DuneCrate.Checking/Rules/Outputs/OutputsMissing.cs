using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>A planned output without any file.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class OutputsMissing : FileRule, IReplans
{
    public override string Id => "outputs.missing";

    public override string Title => "No files yet";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A planned output without any file";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null && output.Frames.IsEmpty && output.Misnamed.IsEmpty && !context.IsClosed(output)
        select About(
            output,
            output.Planned!.Frames,
            Words.Count(output.Planned!.Frames.LongCount, "file"),
            "none",
            $"No file of {output.Key} has come.",
            Rerender(output, output.Planned!.Frames),
            RemedyKind.Rerender
        );

    /// <inheritdoc/>
    public override FrameState StateOf(Finding finding) => FrameState.Missing;

    /// <inheritdoc/>
    public Replan? Replan(ReplanCase at) => at.WithoutPasses(at.Planned.Passes);
}

using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>A planned output without any file.</summary>
public sealed class OutputsMissing : Rule
{
    public override string Id => "outputs.missing";

    public override string Title => "Nothing has come";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A planned output without any file";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Outputs
        where lane.Planned is not null && lane.Frames.IsEmpty && lane.Misnamed.IsEmpty
        select About(
            lane,
            lane.Planned!.Frames,
            $"{lane.Planned!.Frames.LongCount} files",
            "none",
            $"No file of {lane.Key} has come.",
            Rerender(lane, lane.Planned!.Frames),
            RemedyKind.Rerender
        );
}

using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>Frames of the plan with no file. Frames that are there under a slip of the right name belong to <see cref="NamesTemplate"/>.</summary>
public sealed class FramesMissing : Rule
{
    public override string Id => "frames.missing";

    public override string Title => "Frames are missing";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Frames of the plan with no file";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is not null && !(lane.Frames.IsEmpty && lane.Misnamed.IsEmpty)
        let missing = lane.Planned!.Frames.Except(lane.Frames).Except(lane.Misnamed)
        where !missing.IsEmpty
        select About(
            lane,
            missing,
            lane.Planned!.Frames.ToString(),
            lane.Frames.ToString(),
            $"{(missing.IsStill ? "Frame" : "Frames")} {missing} {Are(missing)} missing: {lane.Planned!.Frames.LongCount} planned, {lane.Frames.Intersect(lane.Planned!.Frames).LongCount} found.",
            Rerender(lane, missing),
            RemedyKind.Rerender
        );
}

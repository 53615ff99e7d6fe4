using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Ids (or flat colours, within 1/255) that are in the picture and neither in the pass's list nor on an item of the scene; 0 and black are
/// the background.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class IdentityUnknown : PixelRule
{
    /// <summary>With more pixels in between, the ids were filtered, which another rule says.</summary>
    private const long MostBetween = 24;

    private const int MostNamed = 8;

    public override string Id => "identity.unknown";

    public override string Title => "Ids not in the plan";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Ids or flat colours not in the plan";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null
        from pass in output.Passes
        let planned = PlannedIds.From(output.Planned!, pass)
        where planned is not null
        from odd in Group(
            output.Files,
            f =>
                Measured(pass, f)?.Ids is { Fractional: 0, Between: <= MostBetween } ids
                    ? NameList.From(ids.Ids.Where(i => !planned!.Knows(i.Value)).Select(i => i.Value).Take(MostNamed))
                    : null
        )
        let found = string.Join(", ", odd.Verdict.Names)
        select About(
            output,
            odd.Frames,
            planned!.Words,
            found,
            $"{pass.Name} shows {found} in {At(odd.Frames)}, which the plan does not know.",
            "Give the items their ids in the plan, or render again.",
            RemedyKind.Replan,
            pass.Name
        );
}

using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>A channel that the plan does not hold and that stands in for none it does.</summary>
public sealed class ChannelsExtra : Rule
{
    public override string Id => "channels.extra";

    public override string Title => "Channel not planned";

    public override Severity Severity => Severity.Note;

    public override string Question => "A channel that is not planned";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null
        from odd in GroupByChannels(output, f => Extra(output, f))
        select About(
            output,
            odd.Frames,
            "planned channels only",
            odd.Found,
            $"{odd.Found} came and {(odd.Found.Contains(' ') ? "are" : "is")} not planned.",
            "Plan it if it is wanted; otherwise it only costs room.",
            RemedyKind.Replan
        );

    private static string? Extra(CheckedOutput output, FileFacts facts)
    {
        var standIns = output
            .Passes.SelectMany(p =>
                p.Channels.Where(c => facts.FindChannel(c.Name) is null).Select(c => ChannelMatch.Alias(output, p, c.Name, facts))
            )
            .ToHashSet();
        string[] extra =
        [
            .. facts.Channels.Select(c => c.Name).Where(c => c != "A" && !ChannelMatch.IsPlanned(output, c) && !standIns.Contains(c)),
        ];
        return extra.Length == 0 ? null : string.Join(" ", extra);
    }
}

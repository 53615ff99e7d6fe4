using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>A channel is stored less precisely than planned; a note when more precisely.</summary>
public sealed class ChannelsType : Rule
{
    public override string Id => "channels.type";

    public override string Title => "Channel type differs";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A channel is less precise than planned";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null
        from pass in output.Passes
        from planned in pass.Channels.Select(c => c.Type).Distinct()
        from odd in GroupByChannels(output, f => Differing(pass, planned, f))
        let found = ChannelTypes.Find(odd.Found.Split(' ')[^1])!.Value
        let loses = found.LosesAgainst(planned)
        select About(
            output,
            odd.Frames,
            planned.Name(),
            odd.Found,
            loses
                ? $"{odd.Found.Replace(" as ", " is stored as ", StringComparison.Ordinal)} in {Words(odd.Frames)}; {planned.Name()} is planned."
                : $"{odd.Found} is more precise than the planned {planned.Name()}: it costs room, nothing is lost.",
            loses ? Rerender(output, odd.Frames) : "Change the plan if it is wanted.",
            loses ? RemedyKind.Rerender : RemedyKind.Replan,
            pass.Name
        ) with
        {
            Severity = loses ? Severity.Blocker : Severity.Note,
        };

    private static string? Differing(CheckedPass pass, ChannelType planned, FileFacts facts)
    {
        ChannelFacts[] odd =
        [
            .. pass
                .Channels.Where(c => c.Type == planned)
                .Select(c => facts.FindChannel(c.Name))
                .OfType<ChannelFacts>()
                .Where(c => c.Type != planned),
        ];
        return odd.Length == 0
            ? null
            : $"{string.Join(" ", odd.Where(c => c.Type == odd[0].Type).Select(c => c.Name))} as {odd[0].Type.Name()}";
    }
}

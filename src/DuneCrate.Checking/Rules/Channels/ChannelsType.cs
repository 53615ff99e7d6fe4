using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>A channel is stored less precisely than planned; a note when more precisely.</summary>
/// <remarks>Source: IEEE 754, binary16 and binary32; OpenEXR pixel types.</remarks>
public sealed class ChannelsType : FileRule, IReplans
{
    public override string Id => "channels.type";

    public override string Title => "Channel type differs";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A channel is less precise than planned";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.IsExpected
        from pass in output.Passes
        from planned in pass.Channels.Select(c => c.Type).Distinct()
        from odd in GroupByChannels(output, f => Differing(pass, planned, f))
        let loses = odd.Verdict.Type.LosesAgainst(planned)
        let found = $"{odd.Verdict.Channels} as {odd.Verdict.Type.Name()}"
        select About(
            output,
            odd.Frames,
            planned.Name(),
            found,
            loses
                ? $"{odd.Verdict.Channels} {Words.Are(odd.Verdict.Channels.Count)} stored as {odd.Verdict.Type.Name()} in "
                    + $"{At(odd.Frames)}; {planned.Name()} {Basis(output)}."
                : $"{found} {Words.Are(odd.Verdict.Channels.Count)} more precise than {planned.Name()}, which "
                    + $"{Basis(output)}: it costs room, nothing is lost.",
            loses || output.Planned is null ? Rerender(output, odd.Frames) : "Change the plan if it is wanted.",
            loses || output.Planned is null ? RemedyKind.Rerender : RemedyKind.Replan,
            pass.Name
        ) with
        {
            Severity = loses ? Severity.Blocker : Severity.Note,
        };

    private static string Basis(CheckedOutput output) => output.Planned is null ? "is what most frames have" : "is planned";

    /// <summary>Plans the types that came.</summary>
    public Replan? Replan(ReplanCase at)
    {
        if (at.Came is not { } came)
        {
            return null;
        }

        string[] types = [.. at.Pass.Channels.Select(c => (came.FindChannel(c.Name)?.Type ?? c.Type).Name()).Distinct()];
        return at.WithChannels(
            c => KeyValuePair.Create(c.Key, came.FindChannel(c.Key)?.Type ?? c.Value),
            $"{at.Finding.Pass} of {at.Output.Layer} is stored as {string.Join(", ", types)}"
        );
    }

    /// <summary>The channels of one other type; when there are several, those of the first.</summary>
    private static Verdict? Differing(CheckedPass pass, ChannelType planned, FileFacts facts)
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
            : new Verdict(new NameList([.. odd.Where(c => c.Type == odd[0].Type).Select(c => c.Name)]), odd[0].Type);
    }

    private readonly record struct Verdict(NameList Channels, ChannelType Type);
}

using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>Alpha is planned and absent; a warning when it came unplanned.</summary>
public sealed class ChannelsAlpha : Rule
{
    public override string Id => "channels.alpha";

    public override string Title => "Alpha differs";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Alpha is planned and absent, or the reverse";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null
        from pass in output.Passes
        where pass.Definition?.Kind == PassKind.Combined
        let planned = pass.Channels.Select(c => c.Name).FirstOrDefault(ChannelNames.IsAlpha)
        from odd in GroupByChannels(
            output,
            f =>
                planned is not null ? (f.FindChannel(planned) is null ? "no alpha" : null)
                : f.FindChannel("A") is null ? null
                : "A"
        )
        select About(
            output,
            odd.Frames,
            planned ?? "no alpha",
            odd.Found,
            planned is not null
                ? $"Alpha is missing in {Words(odd.Frames)}: the layer cannot be laid over anything."
                : $"{Words(odd.Frames)} carry an alpha that is not planned.",
            planned is not null ? Rerender(output, odd.Frames) : "Plan the alpha if it is to be used.",
            planned is not null ? RemedyKind.Rerender : RemedyKind.Replan,
            pass.Name
        ) with
        {
            Severity = planned is not null ? Severity.Blocker : Severity.Warning,
        };
}

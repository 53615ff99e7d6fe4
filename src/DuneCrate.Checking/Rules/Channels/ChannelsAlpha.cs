using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>Alpha is planned and absent; a warning when it came unplanned.</summary>
/// <remarks>Source: Porter and Duff, Compositing Digital Images (1984).</remarks>
public sealed class ChannelsAlpha : FileRule, IReplans
{
    private const string NoAlpha = "no alpha";

    public override string Id => "channels.alpha";

    public override string Title => "Alpha differs";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Alpha is planned and absent, or the reverse";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.IsExpected
        from pass in output.Passes
        where pass.Definition?.Kind == PassKind.Combined
        let planned = pass.Channels.Select(c => c.Name).FirstOrDefault(ChannelNames.IsAlpha)
        from odd in GroupByChannels(
            output,
            f =>
                planned is not null ? (f.FindChannel(planned) is null ? Verdict.Absent : (Verdict?)null)
                : f.FindChannel("A") is null ? null
                : Verdict.Unplanned
        )
        let absent = odd.Verdict == Verdict.Absent
        select About(
            output,
            odd.Frames,
            planned ?? NoAlpha,
            absent ? NoAlpha : "A",
            absent
                ? $"Alpha is missing in {At(odd.Frames)}: the layer cannot be laid over anything."
                : $"{Subject(odd.Frames, "carries", "carry")} an alpha that "
                    + (output.Planned is null ? "most frames lack." : "is not planned."),
            absent ? Rerender(output, odd.Frames) : "Plan the alpha if it is to be used.",
            absent ? RemedyKind.Rerender : RemedyKind.Replan,
            pass.Name
        ) with
        {
            Severity = absent ? Severity.Blocker : Severity.Warning,
        };

    /// <summary>Plans the alpha that came, or the pass without the one that did not.</summary>
    public Replan? Replan(ReplanCase at) =>
        at.Pass.Channels.Any(c => ChannelNames.IsAlpha(c.Name)) ? at.WithoutAbsentChannels(ChannelNames.IsAlpha)
        : at.Came?.FindChannel("A") is { } alpha
            ? at.WithPass(
                p =>
                    p with
                    {
                        Channels = new OrderedDictionary<string, ChannelType>(p.Channels.Append(KeyValuePair.Create("A", alpha.Type))),
                    },
                $"{at.Finding.Pass} of {at.Output.Layer} has an alpha"
            )
        : null;

    private enum Verdict
    {
        Absent,
        Unplanned,
    }
}

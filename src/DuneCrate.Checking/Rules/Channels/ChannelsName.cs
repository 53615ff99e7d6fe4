using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>A planned channel is there under an alias or a near name, or in another letter case.</summary>
/// <remarks>Source: OpenEXR, Layers and channel names; common practice.</remarks>
public sealed class ChannelsName : FileRule, IReplans
{
    public override string Id => "channels.name";

    public override string Title => "Channel under another name";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A channel is present under an alias or a near name";

    public override IEnumerable<Finding> Check(CheckContext context) => UnderOtherNames(context).Concat(InOtherCase(context));

    private IEnumerable<Finding> UnderOtherNames(CheckContext context) =>
        from output in context.Outputs
        where output.IsExpected
        from pass in output.Passes
        from channel in pass.Channels
        from odd in GroupByChannels(
            output,
            f => f.FindChannel(channel.Name) is null ? ChannelMatch.Alias(output, pass, channel.Name, f) : null
        )
        select About(
            output,
            odd.Frames,
            channel.Name,
            odd.Verdict,
            $"{channel.Name} came as {odd.Verdict} in {At(odd.Frames)}.",
            $"Rename the channel at the renderer, or plan it as {odd.Verdict}.",
            RemedyKind.Replan,
            pass.Name
        );

    /// <summary>Programs tell <c>r</c> from <c>R</c>: a file of one pass is read all the same, and it is told.</summary>
    private IEnumerable<Finding> InOtherCase(CheckContext context) =>
        from output in context.Outputs
        where output.IsExpected
        from pass in output.Passes
        from odd in GroupByChannels(
            output,
            f =>
                string.Join(' ', pass.Channels.Select(c => f.FindChannel(c.Name)).Where(IsOnlyInCase).Select(c => c!.StoredAs))
                    is { Length: > 0 } stored
                    ? stored
                    : null
        )
        let came = odd.Verdict.Split(' ')
        let wanted = string.Join(
            ' ',
            pass.Channels.Select(c => ChannelNames.LastOf(c.Name)).Where(n => came.Contains(n, StringComparer.OrdinalIgnoreCase))
        )
        select About(
            output,
            odd.Frames,
            wanted,
            odd.Verdict,
            $"{wanted} came as {odd.Verdict} in {At(odd.Frames)}: many programs tell the letter case apart.",
            "Rename the channels at the renderer.",
            RemedyKind.Rerender,
            pass.Name
        );

    private static bool IsOnlyInCase(ChannelFacts? there) =>
        there is { StoredAs: { } stored }
        && ChannelNames.LastOf(there.Name) is var last
        && stored != last
        && stored.Equals(last, StringComparison.OrdinalIgnoreCase);

    /// <summary>Plans the channels under the names that they came with.</summary>
    public Replan? Replan(ReplanCase at)
    {
        if (at.Came is not { } came)
        {
            return null;
        }

        var names = at
            .Pass.Channels.Where(c => came.FindChannel(c.Name) is null)
            .Select(c => (c.Name, Came: ChannelMatch.Alias(at.Output, at.Pass, c.Name, came)))
            .Where(c => c.Came is not null)
            .ToDictionary(c => c.Name, c => c.Came!);
        return names.Count == 0
            ? null
            : at.WithChannels(
                c => KeyValuePair.Create(names.GetValueOrDefault(c.Key, c.Key), c.Value),
                $"{at.Finding.Pass} of {at.Output.Layer} is stored as {string.Join(" ", names.Values)}"
            );
    }
}

using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Checks.Remedies;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>A planned channel is there under an alias or a near name.</summary>
public sealed class ChannelsName : FileRule, IReplans
{
    public override string Id => "channels.name";

    public override string Title => "Channel under another name";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A channel is present under an alias or a near name";

    public override IEnumerable<Finding> Check(CheckContext context) =>
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

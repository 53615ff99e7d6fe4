using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>A planned channel is there under an alias or a near name.</summary>
public sealed class ChannelsName : Rule
{
    public override string Id => "channels.name";

    public override string Title => "Channel under another name";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A channel is present under an alias or a near name";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null
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
            odd.Found,
            $"{channel.Name} came as {odd.Found} in {Words(odd.Frames)}.",
            $"Rename the channel at the renderer, or plan it as {odd.Found}.",
            RemedyKind.Replan,
            pass.Name
        );
}

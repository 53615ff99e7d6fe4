using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Checking.Matching;

/// <summary>Which planned channels a file has, and under what names.</summary>
internal static class ChannelMatch
{
    /// <summary>
    /// The channel that stands in for a planned one that is absent: of the same pass by alias or near name, with the same last part,
    /// and itself not planned; or null.
    /// </summary>
    public static string? Alias(CheckedOutput output, CheckedPass pass, string channel, FileFacts facts) =>
        facts
            .Channels.FirstOrDefault(c =>
                PassOf(output, c) == pass.Name
                && c.Name != channel
                && ChannelNames.LastOf(c.Name) == ChannelNames.LastOf(channel)
                && !IsPlanned(output, c.Name)
            )
            ?.Name;

    /// <summary>Whether the output plans a channel of the name.</summary>
    public static bool IsPlanned(CheckedOutput output, string channel) => output.Passes.Any(p => p.Channels.Any(c => c.Name == channel));

    /// <summary>The pass by the show's catalogue, whose aliases may say more than the shipped one's.</summary>
    private static string? PassOf(CheckedOutput output, ChannelFacts channel) =>
        output.Catalogue == PassCatalogue.Shipped ? channel.Pass : output.Catalogue.PassOfChannel(channel.Name);
}

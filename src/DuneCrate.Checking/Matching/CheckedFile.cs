using DuneCrate.Checking.Intake;

namespace DuneCrate.Checking.Matching;

/// <summary>One file of a output.</summary>
/// <param name="Frame">The frame that its name claims.</param>
/// <param name="Digits">Digits of the number in its name.</param>
/// <param name="Facts">What it contains.</param>
public sealed record CheckedFile(int Frame, int Digits, FileFacts Facts)
{
    /// <summary>The channels that it shares with other files of its output.</summary>
    public ChannelShape Shape { get; init; } = null!;

    /// <summary>The channel of a name in whichever part, or null.</summary>
    public ChannelFacts? Find(string channel) => Shape.Find(Facts, channel);
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace DuneCrate.Imaging.Stacking;

/// <summary>What weighs a strip: a channel, where it has an id, or what a name covers in a Cryptomatte.</summary>
/// <param name="Source">Its files, with <c>#</c> for digits of the frame.</param>
/// <param name="Channel">The channel; of a Cryptomatte its name, which its channels begin with.</param>
public sealed record StackMask(string Source, string Channel)
{
    /// <summary>Ranks of two that a Cryptomatte may have; common ones have three or four.</summary>
    private const int MostRanks = 12;

    /// <summary>Whether 1 − the channel weighs.</summary>
    public bool Invert { get; init; }

    /// <summary>The id where it weighs 1, and 0 elsewhere; or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? Id { get; init; }

    /// <summary>The name in the Cryptomatte; or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Named { get; init; }

    /// <summary>The channels that hold it.</summary>
    [JsonIgnore]
    internal ImmutableArray<string> ChannelsToRead =>
        Named is null ? [Channel] : [.. Enumerable.Range(0, MostRanks / 2).SelectMany(i => "RGBA".Select(c => $"{Channel}{i:00}.{c}"))];
}

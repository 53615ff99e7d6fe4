using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Planning.Model;

/// <summary>A pass that a show adds to the catalogue.</summary>
/// <param name="Key">Key; a trailing <c>.*</c> stands for a family.</param>
/// <param name="Name">Name for people.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Channels">Last parts of its channel names.</param>
/// <param name="Type">The shallowest type that holds it.</param>
/// <param name="Filtered">Whether samples are filtered into pixels.</param>
/// <param name="Operation">over, plus, multiply or none.</param>
/// <param name="Remark">What to know about it.</param>
public sealed record PassAddition(
    string Key,
    string Name,
    PassKind Kind,
    ImmutableArray<string> Channels,
    ChannelType Type,
    bool Filtered,
    string Operation,
    string Remark
)
{
    /// <summary>The operations there are.</summary>
    public static readonly ImmutableArray<string> Operations = ["over", "plus", "multiply", "none"];

    /// <summary>What is wrong with it, or null.</summary>
    [JsonIgnore]
    public string? Problem =>
        TextLimits.NameProblem(Key.EndsWith(".*", StringComparison.Ordinal) ? Key[..^2] : Key) is { } name ? $"The key: {name}"
        : Channels.IsDefaultOrEmpty ? "A pass needs at least one channel, such as R G B."
        : Channels.Length > PlanLimits.MaxChannels
            ? $"{Channels.Length} channels are more than the {PlanLimits.MaxChannels} that a pass may have."
        : Channels.Any(c => c.Length is 0 or > 64 || c.Any(char.IsControl)) ? "A channel's name has 1 to 64 characters."
        : TextLimits.Problem("The name", Name) is { } words ? words
        : TextLimits.Problem("The remark", Remark, TextLimits.NoteLength) is { } remark ? remark
        : Channels.Distinct().Count() != Channels.Length ? "A channel stands twice."
        : !Operations.Contains(Operation) ? $"The operation must be one of {string.Join(", ", Operations)}."
        : null;

    /// <summary>The entry for the catalogue, with what passes of its kind have in common.</summary>
    public PassDefinition ToDefinition() =>
        PassDefinition.Create(Kind, Key, Name.Length > 0 ? Name : Key) with
        {
            Channels = Channels,
            LeastType = Type,
            UsualType = Type == ChannelType.UInt8 ? ChannelType.Half : Type,
            Filtered = Filtered,
            Range = "as the show says",
            Operation = Operation,
            Remark = Remark,
            ReceiverRemark = Remark,
        };
}

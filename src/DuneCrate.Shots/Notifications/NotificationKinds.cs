using System.Collections.Immutable;

namespace DuneCrate.Shots.Notifications;

/// <summary>What people and programs can be told of.</summary>
public static class NotificationKinds
{
    /// <summary>A check ended.</summary>
    public const string CheckEnded = "check-ended";

    /// <summary>A crate was sealed.</summary>
    public const string CrateSealed = "crate-sealed";

    /// <summary>A crate was fetched by whom it was for.</summary>
    public const string CrateHanded = "crate-handed";

    /// <summary>A crate was accepted or sent back by whom it was for.</summary>
    public const string CrateAnswered = "crate-answered";

    /// <summary>A layer whose files stopped coming.</summary>
    public const string LayerStalled = "layer-stalled";

    /// <summary>Names for people, by kind.</summary>
    public static ImmutableSortedDictionary<string, string> Names { get; } =
        new Dictionary<string, string>
        {
            [CheckEnded] = "when a check ends",
            [CrateSealed] = "when a crate is sealed",
            [CrateHanded] = "when a guest fetches a crate",
            [CrateAnswered] = "when a crate is accepted or sent back",
            [LayerStalled] = "when a layer’s files stop coming",
        }.ToImmutableSortedDictionary(StringComparer.Ordinal);
}

using System.Collections.Immutable;

namespace DuneCrate.Planning.Model;

/// <summary>Something changed in the scene for one layer, and why.</summary>
/// <param name="What">What: one of <see cref="Kinds"/>, or words of one's own.</param>
/// <param name="Value">To what, such as "clay" or "2"; may be empty.</param>
/// <param name="Items">For which items; empty for all.</param>
/// <param name="Why">Why; may be empty.</param>
public sealed record LayerChange(string What, string Value, ImmutableArray<string> Items, string Why)
{
    /// <summary>What is usually changed. Common practice.</summary>
    public static readonly ImmutableArray<string> Kinds =
    [
        "material override",
        "global illumination off",
        "bounce depth",
        "samples",
        "effect off",
        "light off",
    ];

    /// <summary>The one that an occlusion pass wants.</summary>
    public const string GlobalIlluminationOff = "global illumination off";
}

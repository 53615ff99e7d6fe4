using System.Collections.Immutable;

namespace DuneCrate.Planning.Model;

/// <summary>What only a person can confirm before a render. A show can have a list of its own.</summary>
public static class Preflight
{
    /// <summary>The list that ships. Common practice.</summary>
    public static readonly ImmutableArray<string> Shipped =
    [
        "The scene file is saved",
        "The right camera is the render camera",
        "Stand-in objects are removed or hidden",
        "The lights are on",
        "The noise seed changes per frame",
        "Blur and defocus are either baked or left to the compositor, not both",
        "The output folder exists and has room",
        "A licence seat is free on every machine",
        "One full-quality frame was rendered and looked at",
    ];

    /// <summary>The list of a show.</summary>
    public static ImmutableArray<string> From(ShowPlan show) => show.Preflight is { IsDefaultOrEmpty: false } own ? own : Shipped;
}

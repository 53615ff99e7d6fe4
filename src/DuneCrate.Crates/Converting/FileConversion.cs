using System.Collections.Immutable;
using DuneCrate.Crates.Recipes;
using DuneCrate.Exr;

namespace DuneCrate.Crates.Converting;

/// <summary>How a file of a crate is made from rendered ones. Most files of a sequence share one.</summary>
/// <param name="Parts">Its parts.</param>
/// <param name="Compression">How it is packed; null for its source's, where that is written here.</param>
/// <param name="Window">Which pixels it stores.</param>
/// <param name="Header">What is written where it is missing.</param>
public sealed record FileConversion(
    ImmutableArray<ConvertedPart> Parts,
    ExrCompression? Compression,
    RecipeWindow Window,
    HeaderAdditions Header
)
{
    /// <summary>A text that differs whenever what is made would.</summary>
    public string Signature { get; } =
        string.Join(
            '\n',
            Parts.SelectMany(p => p.Channels.Select(c => $"{p.Name} {c.Source} {c.Part} {c.From} {c.Name} {c.Type} {c.Step} {c.Alpha}"))
        ) + $"\n{Compression?.Name} {Window} {Header.FrameRate} {Header.Camera} {Header.Space?.Key}";
}

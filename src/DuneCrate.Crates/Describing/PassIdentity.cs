using System.Text.Json.Serialization;

namespace DuneCrate.Crates.Describing;

/// <summary>One id of an identity pass.</summary>
/// <param name="Value">The value as the pixels have it: a number, three numbers joined by spaces, or the eight hexadecimal digits of a
/// Cryptomatte id.</param>
/// <param name="Name">What it stands for; null when nobody says.</param>
/// <param name="Colour">A colour to show it in, as #rrggbb: the material's own, or one that follows from the id.</param>
/// <param name="Pixels">Pixels that have it, over all frames.</param>
public sealed record PassIdentity(
    string Value,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] string? Name,
    string Colour,
    long Pixels
);

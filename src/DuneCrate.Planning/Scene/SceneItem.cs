using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Planning.Scene;

/// <summary>One item of a scene's roster.</summary>
public sealed record SceneItem
{
    /// <summary>Name, unique in the roster without regard to case.</summary>
    public required string Name { get; init; }

    /// <summary>What it is.</summary>
    public ItemKind Kind { get; init; }

    /// <summary>What passes depend on, each at most once, in the order of <see cref="ItemTrait"/>.</summary>
    public ImmutableArray<ItemTrait> Traits { get; init; } = [];

    /// <summary>Object id, from 1; null for none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int? Id { get; init; }

    /// <summary>Flat colour in a material id pass, as #rrggbb; null for none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Colour { get; init; }

    /// <summary>Name of the mask it goes into; null for none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Mask { get; init; }

    /// <summary>The transparent item it stands behind or inside, seen from the camera; null for none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Behind { get; init; }

    /// <summary>What to know about it, such as a camera's field of view; null for nothing.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Note { get; init; }

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }

    /// <summary>Whether it has a trait.</summary>
    public bool Is(ItemTrait trait) => Traits.Contains(trait);

    /// <summary>What is wrong with it, or null.</summary>
    [JsonIgnore]
    public string? Problem =>
        string.IsNullOrWhiteSpace(Name) ? "An item needs a name."
        : Name.Length > 120 || Name.Any(char.IsControl) ? "A name may have at most 120 characters and no line breaks."
        : Id is < 1 or > 0xFFFFFF ? $"{Name}: an object id is a whole number from 1 to 16777215; larger ones are not exact in a float."
        : Colour is not null && !FlatColours.TryParse(Colour, out _) ? $"{Name}: '{Colour}' is not a colour; write #rrggbb."
        : TextLimits.Problem($"{Name}: the note", Note, TextLimits.NoteLength) is { } note ? note
        : TextLimits.Problem($"{Name}: what it stands behind", Behind) is { } behind ? behind
        : Mask is not null && TextLimits.NameProblem(Mask) is { } mask ? $"{Name}: the mask's name: {mask}"
        : null;

    /// <summary>Whether a camera can see it and layers can show or hide it.</summary>
    [JsonIgnore]
    public bool IsVisible => Kind is ItemKind.Object or ItemKind.Plane;
}

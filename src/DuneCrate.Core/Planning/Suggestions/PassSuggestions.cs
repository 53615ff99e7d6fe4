using System.Collections.Immutable;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Scene;

namespace DuneCrate.Core.Planning.Suggestions;

/// <summary>Proposes passes from the traits of what a layer shows. Common practice; passes that are planned, or off, are not proposed.</summary>
public static class PassSuggestions
{
    private sealed record Wish(ItemTrait Trait, string Pass, string Instead, string Verb);

    private static readonly Wish[] Wishes =
    [
        new(ItemTrait.Emits, "emission", "", "emits"),
        new(ItemTrait.Transparent, "transmission", "", "can be looked through"),
        new(ItemTrait.Glossy, "specular", "specular_direct", "is glossy"),
        new(ItemTrait.Transparent, "reflection", "specular_indirect", "mirrors its surroundings"),
        new(ItemTrait.Scattering, "subsurface", "", "scatters light"),
        new(ItemTrait.Volume, "volume", "", "is a volume"),
        new(ItemTrait.Animated, "motion", "", "moves"),
    ];

    /// <summary>Every suggestion for layers that are rendered, in the order of the layers.</summary>
    public static ImmutableArray<PassSuggestion> Compute(Plan plan) =>
        plan.Items.IsEmpty
            ? []
            : [.. plan.Layers.Where(l => !l.Off && l.BasedOn is null).SelectMany(l => Compute(plan, l)).DistinctBy(s => (s.Layer, s.Pass))];

    private static IEnumerable<PassSuggestion> Compute(Plan plan, LayerPlan layer)
    {
        SceneItem[] seen = [.. plan.Items.Where(i => i.IsVisible && layer.RoleOf(i.Name).IsSeen())];
        bool Has(string pass) =>
            pass.Length > 0 && layer.AllPasses.Any(p => p.Pass == pass || p.Pass.StartsWith(pass + ".", StringComparison.Ordinal));
        foreach (Wish wish in Wishes)
        {
            SceneItem[] carriers = [.. seen.Where(i => i.Is(wish.Trait))];
            if (carriers.Length > 0 && !Has(wish.Pass) && !Has(wish.Instead))
            {
                yield return Cell(layer, wish.Pass, $"{Named(carriers)} {Plural(wish.Verb, carriers.Length)}");
            }
        }

        SceneItem[] hidden = [.. seen.Where(i => i.Is(ItemTrait.Emits) && i.Behind is not null)];
        foreach (SceneItem item in hidden.Where(i => !MaskedIn(layer, i)))
        {
            string mask = item.Mask ?? Slug(item.Name);
            yield return new PassSuggestion(
                layer.Name,
                "matte.a",
                $"{item.Name} emits and stands behind {item.Behind}: its light is missing from emission, so also a matte for it",
                new SeveralEdits(
                    [new PutItems([item with { Mask = mask }]), new PackMattes(layer.Name)],
                    $"matte of {item.Name} planned for {layer.Name}"
                )
            );
        }

        if (seen.Length > 1 && !Has("object_id") && !Has("cryptomatte"))
        {
            yield return Cell(
                layer,
                "cryptomatte.object",
                $"{seen.Length} items are shown: an id for each lets a compositor select any of them"
            );
        }

        if (seen.Length > 0 && !Has("depth"))
        {
            yield return Cell(layer, "depth", "focus, fog and where to put things need a distance");
        }

        SceneItem[] lights = [.. plan.Items.Where(i => i.Kind == ItemKind.Light)];
        if (seen.Length > 0 && lights.Length is > 1 and <= 6 && !Has("light_group"))
        {
            yield return new PassSuggestion(
                layer.Name,
                "light_group.*",
                $"{lights.Length} lights: one pass for each lets them be balanced after the render",
                new WriteCells([.. lights.Select(l => new CellText(layer.Name, $"light_group.{Slug(l.Name)}", "x"))])
            );
        }
    }

    private static bool MaskedIn(LayerPlan layer, SceneItem item) =>
        item.Mask is { } mask && layer.AllPasses.Any(p => p.Masks?.ContainsValue(mask) == true);

    private static PassSuggestion Cell(LayerPlan layer, string pass, string reason) =>
        new(layer.Name, pass, reason, new WriteCells([new CellText(layer.Name, pass, "x")]));

    private static string Named(SceneItem[] items) =>
        items.Length <= 3 ? string.Join(items.Length == 2 ? " and " : ", ", items.Select(i => i.Name)) : $"{items.Length} items";

    private static string Plural(string verb, int count) =>
        count == 1
            ? verb
            : verb switch
            {
                "is glossy" => "are glossy",
                "is a volume" => "are volumes",
                "can be looked through" => verb,
                "mirrors its surroundings" => "mirror their surroundings",
                "scatters light" => "scatter light",
                _ => verb[..^1],
            };

    /// <summary>A name as pass keys take it.</summary>
    internal static string Slug(string name) =>
        string.Concat(name.ToLowerInvariant().Select(c => char.IsAsciiLetterOrDigit(c) ? c : '_')).Trim('_') is { Length: > 0 } slug
            ? slug[..Math.Min(slug.Length, 40)]
            : "item";
}

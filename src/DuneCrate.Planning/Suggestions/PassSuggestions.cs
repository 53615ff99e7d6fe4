using System.Collections.Immutable;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Suggestions;

/// <summary>
/// Proposes passes from the traits of what a layer shows. Common practice; passes that are planned, or off, are not proposed.
/// </summary>
public static class PassSuggestions
{
    /// <summary>Every suggestion for layers that are rendered, in the order of the layers.</summary>
    public static ImmutableArray<PassSuggestion> Compute(Plan plan) =>
        plan.Items.IsEmpty
            ? []
            : [.. plan.Layers.Where(l => !l.Off && l.BasedOn is null).SelectMany(l => Compute(plan, l)).DistinctBy(s => (s.Layer, s.Pass))];

    private static IEnumerable<PassSuggestion> Compute(Plan plan, LayerPlan layer)
    {
        SceneItem[] seen = [.. plan.Items.Where(i => i.IsVisible && layer.RoleOf(i.Name).IsSeen())];
        var planned = layer.AllPasses.Select(p => plan.Catalogue.Find(p.Pass)?.Stem ?? p.Pass).ToHashSet();
        bool Has(string stem) => planned.Contains(stem);
        foreach (PassDefinition pass in plan.Catalogue.Passes.Where(p => p.Permission > PassNeed.Optional && !p.FilledBy.IsEmpty))
        {
            ItemTrait trait = pass.FilledBy[0];
            SceneItem[] carriers = [.. seen.Where(i => i.Is(trait))];
            bool isSplit = plan.Catalogue.Passes.Any(finer => finer.PartOf.Contains(pass.Key) && Has(finer.Key));
            if (carriers.Length > 0 && !Has(pass.Key) && !isSplit)
            {
                yield return Cell(layer, pass.Key, $"{Words.List(carriers.Select(i => i.Name))} {trait.Verb(carriers.Length)}");
            }
        }

        SceneItem[] hidden = [.. seen.Where(i => i.Is(ItemTrait.Emits) && i.Behind is not null)];
        foreach (SceneItem item in hidden.Where(i => !MaskedIn(layer, i)))
        {
            string mask = item.Mask ?? Slug(item.Name);
            yield return new PassSuggestion(
                layer.Name,
                PackMattes.FirstPass,
                $"{item.Name} emits and stands behind {item.Behind}: its light is missing from emission, so also a matte for it",
                new SeveralEdits(
                    [new PutItems([item with { Mask = mask }]), new PackMattes(layer.Name)],
                    $"matte of {item.Name} planned for {layer.Name}"
                )
            );
        }

        if (seen.Length > 1 && !Has(PassKeys.ObjectId) && !Has(PassKeys.Cryptomatte))
        {
            yield return Cell(
                layer,
                $"{PassKeys.Cryptomatte}.object",
                $"{seen.Length} items are shown: an id for each lets a compositor select any of them"
            );
        }

        if (seen.Length > 0 && !Has(PassKeys.Depth))
        {
            yield return Cell(layer, PassKeys.Depth, "focus, fog and where to put things need a distance");
        }

        SceneItem[] lights = [.. plan.Items.Where(i => i.Kind == ItemKind.Light)];
        if (seen.Length > 0 && lights.Length is > 1 and <= 6 && !Has(PassKeys.LightGroup))
        {
            yield return new PassSuggestion(
                layer.Name,
                $"{PassKeys.LightGroup}.*",
                $"{lights.Length} lights: one pass for each lets them be balanced after the render",
                new WriteCells([.. lights.Select(l => new CellText(layer.Name, $"{PassKeys.LightGroup}.{Slug(l.Name)}", "x"))])
            );
        }
    }

    private static bool MaskedIn(LayerPlan layer, SceneItem item) =>
        item.Mask is { } mask && layer.AllPasses.Any(p => p.Masks?.ContainsValue(mask) == true);

    private static PassSuggestion Cell(LayerPlan layer, string pass, string reason) =>
        new(layer.Name, pass, reason, new WriteCells([new CellText(layer.Name, pass, "x")]));

    /// <summary>A name as pass keys take it.</summary>
    internal static string Slug(string name) =>
        string.Concat(name.ToLowerInvariant().Select(c => char.IsAsciiLetterOrDigit(c) ? c : '_')).Trim('_') is { Length: > 0 } slug
            ? slug[..Math.Min(slug.Length, 40)]
            : "item";
}

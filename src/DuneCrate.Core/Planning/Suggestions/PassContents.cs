using System.Collections.Immutable;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Scene;

namespace DuneCrate.Core.Planning.Suggestions;

/// <summary>What a pass of a layer will contain, worked out from roster and roles alone.</summary>
/// <param name="Pass">Key of the pass.</param>
/// <param name="Items">Items that one will see in it.</param>
/// <param name="Holes">Items that cut holes into it.</param>
/// <param name="Unseen">Items that act on it without being seen: shadows and reflections of what is not there.</param>
/// <param name="Warnings">What will be wrong with it, in words.</param>
public sealed record PassContents(
    string Pass,
    ImmutableArray<string> Items,
    ImmutableArray<string> Holes,
    ImmutableArray<string> Unseen,
    ImmutableArray<string> Warnings
)
{
    /// <summary>The contents of a pass.</summary>
    public static PassContents Compute(Plan plan, LayerPlan layer, PassPlan pass)
    {
        ImmutableArray<SceneItem> visible = [.. plan.Items.Where(i => i.IsVisible)];
        PassDefinition? definition = plan.Catalogue.Find(pass.Pass);
        SceneItem[] seen = [.. visible.Where(i => layer.RoleOf(i.Name).IsSeen())];
        string[] holes = [.. visible.Where(i => layer.RoleOf(i.Name) == ItemRole.Holdout).Select(i => i.Name)];
        string[] shadows = [.. visible.Where(i => layer.RoleOf(i.Name) == ItemRole.ShadowOnly).Select(i => i.Name)];
        string[] mirrored = [.. visible.Where(i => layer.RoleOf(i.Name) == ItemRole.ReflectionOnly).Select(i => i.Name)];
        (IEnumerable<SceneItem> items, string[] unseen) = (definition?.Stem, pass.Pass) switch
        {
            ("shadow", _) => (seen.Where(i => layer.RoleOf(i.Name) != ItemRole.NoShadow), shadows),
            ("reflection", _) => (seen.Where(i => i.Is(ItemTrait.Glossy) || i.Is(ItemTrait.Transparent)), mirrored),
            ("emission", _) => (seen.Where(i => i.Is(ItemTrait.Emits)), []),
            ("transmission", _) => (seen.Where(i => i.Is(ItemTrait.Transparent)), []),
            ("subsurface", _) => (seen.Where(i => i.Is(ItemTrait.Scattering)), []),
            ("volume", _) => (seen.Where(i => i.Is(ItemTrait.Volume)), []),
            ("matte", _) when pass.Masks is { } masks => (seen.Where(i => masks.ContainsValue(i.Mask ?? "")), []),
            ("object_id", _) => (seen.Where(i => i.Id is { } id && pass.Ids?.Contains(id) != false), []),
            _ => (seen, definition?.Kind is PassKind.Combined or PassKind.Light ? [.. shadows, .. mirrored] : Array.Empty<string>()),
        };
        return new PassContents(
            pass.Pass,
            [.. items.Select(i => i.Name)],
            [.. holes],
            [.. unseen],
            [.. Warn(plan, layer, pass, definition, seen)]
        );
    }

    /// <summary>
    /// Items that cross a layer's masks and would be missing from them: they are hidden here, seen in a layer nearer to the camera, and
    /// neither holdouts here nor in the mask.
    /// </summary>
    public static ImmutableArray<(string Item, string Layer)> Crossing(Plan plan, LayerPlan layer)
    {
        int place = plan.Layers.IndexOf(layer);
        return
        [
            .. from item in plan.Items
            where item.IsVisible && layer.RoleOf(item.Name) == ItemRole.Hidden
            let nearer = plan.Layers.Take(place).FirstOrDefault(l => !l.Off && l.BasedOn is null && l.RoleOf(item.Name).IsSeen())
            where nearer is not null
            select (item.Name, nearer.Name),
        ];
    }

    private static IEnumerable<string> Warn(Plan plan, LayerPlan layer, PassPlan pass, PassDefinition? definition, SceneItem[] seen)
    {
        if (definition?.Kind is PassKind.Mask or PassKind.Identity && Crossing(plan, layer) is { IsEmpty: false } crossing)
        {
            yield return $"{string.Join(", ", crossing.Select(c => c.Item))} {(crossing.Length == 1 ? "passes" : "pass")} in front and {(crossing.Length == 1 ? "is" : "are")} no holdout here: the mask will be wrong.";
        }

        if (
            definition?.Key == "ao"
            && seen.Where(i => i.Is(ItemTrait.Transparent) || i.Is(ItemTrait.CutOut)).ToArray() is { Length: > 0 } dark
        )
        {
            yield return $"{string.Join(", ", dark.Select(i => i.Name))} will darken it wrongly.";
        }
    }
}

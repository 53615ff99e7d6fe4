using System.Collections.Immutable;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Suggestions;

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
        ImmutableArray<ItemRole> unseen = definition?.UnseenRoles ?? [];
        IEnumerable<SceneItem> items = definition?.Source switch
        {
            PassSource.Casting => seen.Where(i => layer.RoleOf(i.Name) != ItemRole.NoShadow),
            PassSource.Filling => seen.Where(i => definition.FilledBy.Any(i.Is)),
            PassSource.Masked when pass.Masks is { } masks => seen.Where(i => masks.ContainsValue(i.Mask ?? "")),
            PassSource.Identified => seen.Where(i => i.Id is { } id && pass.Ids?.Contains(id) != false),
            _ => seen,
        };
        return new PassContents(
            pass.Pass,
            [.. items.Select(i => i.Name)],
            [.. holes],
            [.. visible.Where(i => unseen.Contains(layer.RoleOf(i.Name))).Select(i => i.Name)],
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
            yield return $"{Words.List(crossing.Select(c => c.Item))} {(crossing.Length == 1 ? "passes" : "pass")} in front and "
                + $"{Words.Are(crossing.Length)} no holdout here: the mask will be wrong.";
        }

        SceneItem[] spoiling = [.. seen.Where(i => definition?.SpoiltBy.Any(i.Is) == true)];
        if (spoiling.Length > 0)
        {
            yield return $"{Words.List(spoiling.Select(i => i.Name))} will darken it wrongly.";
        }
    }
}

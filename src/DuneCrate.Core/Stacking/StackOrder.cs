using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;

namespace DuneCrate.Core.Stacking;

/// <summary>
/// The order of passes that are laid in, from the bottom: layers from the farthest to the nearest, which a plan lists first; in a layer by
/// the catalogue's places. Light passes rebuild the beauty and are not laid in beside it.
/// </summary>
public static class StackOrder
{
    /// <summary>Those that are laid in, from the bottom.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="passes">What is to be ordered.</param>
    /// <param name="of">Layer and key of the pass of each.</param>
    public static IEnumerable<T> FromBottom<T>(Plan plan, IEnumerable<T> passes, Func<T, (string Layer, string Pass)> of)
    {
        Dictionary<string, int> layers = plan.Layers.Index().ToDictionary(l => l.Item.Name, l => l.Index);
        return passes
            .Where(p => PlaceOf(plan, of(p).Pass) != StackPlace.None)
            .OrderByDescending(p => layers[of(p).Layer])
            .ThenBy(p => PlaceOf(plan, of(p).Pass));
    }

    /// <summary>Where a pass lies in its layer.</summary>
    public static StackPlace PlaceOf(Plan plan, string pass) => plan.Catalogue.Find(pass)?.Place ?? StackPlace.None;
}

using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Suggestions;

/// <summary>One object id, seen from both sides.</summary>
/// <param name="Id">The id.</param>
/// <param name="Items">Items that carry it; more than one cannot be told apart.</param>
/// <param name="Asked">Layers whose id pass asks for it.</param>
public sealed record IdUse(int Id, ImmutableArray<string> Items, ImmutableArray<string> Asked)
{
    /// <summary>The passes of a plan that put out object ids.</summary>
    public static IEnumerable<(LayerPlan Layer, PassPlan Pass)> PassesOf(Plan plan) =>
        plan.Layers.SelectMany(l => l.Passes.Where(p => p.Pass == PassKeys.ObjectId).Select(p => (l, p)));

    /// <summary>Every id that an item carries or a pass asks for, ascending.</summary>
    public static IEnumerable<IdUse> Compute(Plan plan)
    {
        (LayerPlan Layer, PassPlan Pass)[] asking = [.. PassesOf(plan)];
        SceneItem[] visible = [.. plan.Items.Where(i => i.IsVisible)];
        IEnumerable<int> asked = asking.SelectMany(a => a.Pass.Ids?.AsEnumerable() ?? []);
        foreach (int id in visible.Select(i => i.Id).OfType<int>().Concat(asked).Distinct().Order())
        {
            SceneItem[] carriers = [.. visible.Where(i => i.Id == id)];
            IEnumerable<string> wants = asking
                .Where(a => a.Pass.Ids is { } set ? set.Contains(id) : carriers.Any(c => a.Layer.RoleOf(c.Name).IsSeen()))
                .Select(a => a.Layer.Name);
            yield return new IdUse(id, [.. carriers.Select(c => c.Name)], [.. wants]);
        }
    }
}

using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Rules;

/// <summary>What rules about the scene share. Without a roster they have nothing to say.</summary>
public abstract class SceneRule : PlanRule
{
    /// <summary>The items that a layer shows.</summary>
    protected static SceneItem[] Seen(Plan plan, LayerPlan layer) =>
        [.. plan.Items.Where(i => i.IsVisible && layer.RoleOf(i.Name).IsSeen())];
}

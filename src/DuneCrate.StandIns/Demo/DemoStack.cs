using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Imaging.Stacking.Looks;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Suggestions;

namespace DuneCrate.StandIns.Demo;

/// <summary>A test composite that shows what one can be made of.</summary>
public static class DemoStack
{
    /// <summary>The shot that has it.</summary>
    public const string Shot = "KP010";

    /// <summary>Its name.</summary>
    public const string Name = "dusk";

    /// <summary>The stack that the plan suggests, with a glow of the lamps and fog between the kelp.</summary>
    public static StackRecipe Make(Plan plan)
    {
        StackRecipe recipe = StackProposal.From(plan, _ => true);
        int sub = Array.FindIndex(recipe.Strips, s => s.Name == "sub beauty"),
            kelp = Array.FindIndex(recipe.Strips, s => s.Name == "kelp beauty");
        StackStrip glow = LookOf(plan, "sub", LookKind.Glow),
            fog = LookOf(plan, "seabed", LookKind.Fog);
        return recipe.With(glow with { Gain = -1, Look = glow.Look! with { Radius = 40 } }, sub + 1).With(fog with { Opacity = 0.6 }, kelp);
    }

    private static StackStrip LookOf(Plan plan, string layer, LookKind kind) =>
        PlannedOutput
            .From(plan)
            .Where(o => o.Layer.Name == layer)
            .SelectMany(o => o.Passes.Select(p => (Output: o, Pass: p)))
            .Where(p => kind != LookKind.Glow || plan.Catalogue.Find(p.Pass.Pass)?.FilledBy.Contains(ItemTrait.Emits) == true)
            .Select(p => StackProposal.LookOf(plan, p.Output, p.Pass, [.. p.Output.Passes.SelectMany(o => o.Channels.Keys)], kind))
            .OfType<StackStrip>()
            .First();
}

using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Rules;

namespace DuneCrate.Crates.Recipes;

/// <summary>What a receiver asks for and the plan does not give, so that it can be planned before the render.</summary>
public static class RecipeGaps
{
    /// <summary>The gaps; none for a plan that gives all of it.</summary>
    public static IEnumerable<ReceiverGap> Of(CrateRecipe recipe, Plan plan)
    {
        string[] planned = [.. plan.Layers.SelectMany(l => l.Passes).Select(p => p.Pass).Distinct()];
        string[] absent = [.. (recipe.Only ?? []).Where(name => !planned.Any(p => new CrateRecipe { Only = [name] }.Takes(p)))];
        if (absent.Length > 0)
        {
            string them = Words.Them(absent.Length);
            yield return new ReceiverGap(
                recipe.Receiver ?? "",
                null,
                $"asks for {Words.List(absent)}, and nothing plans {them}.",
                $"Plan {them} before the render, or take {them} off the card."
            );
        }

        foreach (LayerPlan layer in plan.Layers.Where(l => !l.Off))
        {
            string[] shallow = [.. layer.Passes.Where(p => IsDeeper(recipe, plan.Catalogue.Find(p.Pass), p)).Select(p => p.Pass)];
            if (shallow.Length > 0)
            {
                yield return new ReceiverGap(
                    recipe.Receiver ?? "",
                    layer.Name,
                    $"asks for float where {layer.Name} plans half: {Words.List(shallow)}. Floats made of halves hold no more.",
                    "Plan float before the render."
                );
            }
        }
    }

    private static bool IsDeeper(CrateRecipe recipe, PassDefinition? definition, PassPlan pass) =>
        definition is { IsExact: false }
        && recipe.Types?.TryGetValue(definition.Kind, out ChannelType asked) == true
        && asked == ChannelType.Float
        && pass.Channels.Values.Contains(ChannelType.Half);
}

using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;
using DuneCrate.Planning.Suggestions;

namespace DuneCrate.Planning.Rules;

/// <summary>A trait of what a layer shows with no pass for it, and a pass with nothing in the layer to fill it.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanScene : SceneRule
{
    public override string Id => "plan.scene";

    public override string Title => "Scene and passes do not match";

    public override Severity Severity => Severity.Note;

    public override string Question => "A trait of the scene with no pass for it, a pass with nothing in the scene to fill it";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        if (context.Plan.Items.IsEmpty)
        {
            yield break;
        }

        foreach (LayerPlan layer in context.Layers)
        {
            SceneItem[] seen = Seen(context.Plan, layer);
            IEnumerable<SceneItem> acting = seen.Concat(context.Plan.Items.Where(i => i.Kind == ItemKind.Camera));
            foreach (PassPlan pass in layer.Passes)
            {
                ImmutableArray<ItemTrait> filling = context.Plan.Catalogue.Find(pass.Pass)?.FilledBy ?? [];
                if (!filling.IsEmpty && !acting.Any(i => filling.Any(i.Is)))
                {
                    yield return Found(
                        layer.Name,
                        pass.Pass,
                        null,
                        $"Nothing that {layer.Name} shows {string.Join(" or ", filling.Select(t => t.Verb()))}: {pass.Pass} will be empty.",
                        "Take it out, or put the trait into the roster.",
                        new WriteCells([new CellText(layer.Name, pass.Pass, "")])
                    );
                }
            }
        }

        foreach (PassSuggestion suggestion in PassSuggestions.Compute(context.Plan).Where(s => IsFilledByTraits(context, s.Pass)))
        {
            yield return Found(
                suggestion.Layer,
                suggestion.Pass,
                null,
                $"{suggestion.Reason}, and {suggestion.Layer} plans no {suggestion.Pass}.",
                $"Plan {suggestion.Pass}.",
                suggestion.Edit
            );
        }
    }

    private static bool IsFilledByTraits(PlanContext context, string pass) => context.Plan.Catalogue.Find(pass)?.FilledBy.IsEmpty == false;
}

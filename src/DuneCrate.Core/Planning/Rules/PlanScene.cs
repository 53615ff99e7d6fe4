using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Planning.Suggestions;
using DuneCrate.Core.Rules;
using DuneCrate.Core.Scene;

namespace DuneCrate.Core.Planning.Rules;

/// <summary>A trait of what a layer shows with no pass for it, and a pass with nothing in the layer to fill it.</summary>
public sealed class PlanScene : SceneRule
{
    private static readonly (string Pass, ItemTrait Trait, string Words)[] Filled =
    [
        ("emission", ItemTrait.Emits, "emits"),
        ("transmission", ItemTrait.Transparent, "is transparent"),
        ("subsurface", ItemTrait.Scattering, "scatters"),
        ("volume", ItemTrait.Volume, "is a volume"),
        ("motion", ItemTrait.Animated, "moves"),
        ("reflection", ItemTrait.Glossy, "is glossy"),
        ("specular", ItemTrait.Glossy, "is glossy"),
    ];

    public override string Id => "plan.scene";

    public override string Title => "Scene and passes differ";

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
            foreach ((string pass, ItemTrait trait, string words) in Filled.Where(f => layer.Passes.Any(p => p.Pass == f.Pass)))
            {
                bool isFilled =
                    seen.Any(i => i.Is(trait))
                    || (pass == "reflection" && seen.Any(i => i.Is(ItemTrait.Transparent)))
                    || (pass == "motion" && context.Plan.Items.Any(i => i.Kind == ItemKind.Camera && i.Is(ItemTrait.Animated)));
                if (!isFilled)
                {
                    yield return Found(
                        layer.Name,
                        pass,
                        null,
                        $"Nothing that {layer.Name} shows {words}: {pass} will be empty.",
                        "Take it out, or put the trait into the roster.",
                        new WriteCells([new CellText(layer.Name, pass, "")])
                    );
                }
            }
        }

        foreach (PassSuggestion suggestion in PassSuggestions.Compute(context.Plan).Where(s => Filled.Any(f => f.Pass == s.Pass)))
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
}

using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Suggestions;

namespace DuneCrate.Planning.Rules;

/// <summary>
/// Emitters behind transparent items: their light reaches the camera through the refraction pass, so the emission pass lacks it.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanHiddenEmission : SceneRule
{
    public override string Id => "plan.hidden-emission";

    public override string Title => "Emission will be incomplete";

    public override Severity Severity => Severity.Note;

    public override string Question => "Emitters behind transparent items";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from layer in context.Layers
        where layer.Passes.Any(p => p.Pass == PassKeys.Emission)
        let behind = Seen(context.Plan, layer)
            .Where(i => i.Is(ItemTrait.Emits) && context.Plan.Items.Any(g => g.Name == i.Behind && g.Is(ItemTrait.Transparent)))
            .ToArray()
        where behind.Length > 0
        let masked = layer.Passes.SelectMany(p => p.Masks is null ? [] : p.Masks.Values.AsEnumerable()).ToHashSet()
        where behind.Any(i => i.Mask is null || !masked.Contains(i.Mask))
        select Found(
            layer.Name,
            PassKeys.Emission,
            null,
            $"{Words.List(behind.Select(i => i.Name))} {(behind.Length == 1 ? "stands" : "stand")} behind "
                + $"{Words.List(behind.Select(i => i.Behind!).Distinct())}: emission of {layer.Name} will lack that light.",
            "Plan a matte for it, so that it can be lifted out of refraction.",
            new SeveralEdits(
                [
                    new PutItems([.. behind.Where(i => i.Mask is null).Select(i => i with { Mask = PassSuggestions.Slug(i.Name) })]),
                    new PackMattes(layer.Name),
                ],
                $"mattes of {layer.Name} packed"
            )
        );
}

using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Rules;
using DuneCrate.Core.Scene;

namespace DuneCrate.Core.Planning.Rules;

/// <summary>Render settings that cost time and reach no pass or item.</summary>
public sealed class PlanIdle : SceneRule
{
    private static readonly (string Setting, double Above, ItemTrait Trait, string Nothing, string Cheap)[] Costly =
    [
        ("samples_subsurface", 0, ItemTrait.Scattering, "scatters", "0"),
        ("bounces_transmission", 2, ItemTrait.Transparent, "is transparent", "0"),
        ("bounces_volume", 0, ItemTrait.Volume, "is a volume", "0"),
        ("bounces_glossy", 4, ItemTrait.Glossy, "is glossy", "1"),
    ];

    public override string Id => "plan.idle";

    public override string Title => "Settings that reach nothing";

    public override Severity Severity => Severity.Note;

    public override string Question => "Render settings that cost time and reach no pass or item";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        if (context.Plan.Items.IsEmpty)
        {
            yield break;
        }

        foreach (LayerPlan layer in context.Layers)
        {
            SceneItem[] seen = Seen(context.Plan, layer);
            foreach ((string setting, double above, ItemTrait trait, string nothing, string cheap) in Costly)
            {
                if (RenderSettings.NumberOf(context.Plan, layer, setting) is { } value && value > above && !seen.Any(i => i.Is(trait)))
                {
                    yield return Found(
                        layer.Name,
                        null,
                        setting,
                        FormattableString.Invariant(
                            $"{layer.Name} renders with {value:0.##} {RenderSettings.Find(setting)!.Words}, and nothing that it shows {nothing}."
                        ),
                        $"Set it to {cheap}.",
                        new SetSettings([layer.Name], setting, cheap)
                    );
                }
            }

            bool onlyExact =
                layer.Passes.Any()
                && layer.Passes.All(p => context.Plan.Catalogue.Find(p.Pass)?.Kind is PassKind.Data or PassKind.Identity);
            if (onlyExact && RenderSettings.NumberOf(context.Plan, layer, "samples") is > 16 and var samples)
            {
                yield return Found(
                    layer.Name,
                    null,
                    "samples",
                    FormattableString.Invariant(
                        $"{layer.Name} puts out data alone, which is not filtered, with {samples:0} samples per pixel."
                    ),
                    "Set it to 1.",
                    new SetSettings([layer.Name], "samples", "1")
                );
            }
        }
    }
}

using System.Globalization;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Rules;

/// <summary>Render settings that cost time and reach no pass or item.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanIdle : SceneRule
{
    private static readonly (string Setting, double Above, ItemTrait Trait, string Cheap)[] Costly =
    [
        ("samples.scattering", 0, ItemTrait.Scattering, "0"),
        ("bounces.refraction", 2, ItemTrait.Transparent, "0"),
        ("bounces.volume", 0, ItemTrait.Volume, "0"),
        ("bounces.specular", 4, ItemTrait.Glossy, "1"),
    ];

    public override string Id => "plan.idle";

    public override string Title => "Settings without effect";

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
            foreach ((string setting, double above, ItemTrait trait, string cheap) in Costly)
            {
                if (RenderSettings.NumberOf(context.Plan, layer, setting) is { } value && value > above && !seen.Any(i => i.Is(trait)))
                {
                    yield return Found(
                        layer.Name,
                        null,
                        setting,
                        string.Create(
                            CultureInfo.InvariantCulture,
                            $"{layer.Name} renders with {value:0.##} {RenderSettings.Find(setting)!.Words}, and nothing that it "
                                + $"shows {trait.Verb()}."
                        ),
                        $"Set it to {cheap}.",
                        new SetSettings([layer.Name], setting, cheap)
                    );
                }
            }

            bool onlyExact = layer.Passes.Any() && layer.Passes.All(p => context.Plan.Catalogue.Find(p.Pass)?.IsExact == true);
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

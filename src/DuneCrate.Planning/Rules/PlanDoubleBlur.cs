using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Rules;

/// <summary>
/// Blur or defocus baked into the beauty while motion or depth passes are planned for adding it afterwards: it would be there twice.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanDoubleBlur : PlanRule
{
    public override string Id => "plan.double-blur";

    public override string Title => "Blur would be applied twice";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Blur or defocus baked in, and motion or depth passes planned for adding it";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        foreach (LayerPlan layer in context.Layers)
        {
            bool Has(string pass) => layer.Passes.Any(p => p.Pass == pass);
            if (Has(PassKeys.Motion) && RenderSettings.IsOn(context.Plan, layer, "motion_blur") == true)
            {
                yield return Found(
                    layer.Name,
                    PassKeys.Motion,
                    "motion_blur",
                    $"{layer.Name} renders motion blur into the beauty and plans motion vectors for adding it.",
                    "Render without motion blur, or leave the motion pass out.",
                    new SetSettings([layer.Name], "motion_blur", "no")
                );
            }

            if (Has(PassKeys.Depth) && RenderSettings.IsOn(context.Plan, layer, "defocus") == true)
            {
                yield return Found(
                    layer.Name,
                    PassKeys.Depth,
                    "defocus",
                    $"{layer.Name} renders defocus into the beauty and plans depth, from which a compositor would add it again.",
                    "Render without defocus, or say that the depth is for other uses and waive this.",
                    new SetSettings([layer.Name], "defocus", "no")
                );
            }
        }
    }
}

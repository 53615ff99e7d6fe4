using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Rules;

/// <summary>A layer that something stands behind, without alpha: it cannot be laid over anything.</summary>
/// <remarks>Source: Porter and Duff (1984).</remarks>
public sealed class PlanAlpha : PlanRule
{
    public override string Id => "plan.alpha";

    public override string Title => "Cut-out without alpha";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A cut-out layer without alpha";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        LayerPlan[] layers = [.. context.Layers.Where(l => l.FindPass(PassKeys.Beauty) is { Off: false })];
        foreach (LayerPlan layer in layers.SkipLast(1))
        {
            if (!layer.FindPass(PassKeys.Beauty)!.Channels.Keys.Any(ChannelNames.IsAlpha))
            {
                yield return Found(
                    layer.Name,
                    PassKeys.Beauty,
                    "alpha",
                    $"{layer.Name} stands in front of {layers[^1].Name} and has no alpha: it cannot be laid over it.",
                    "Give it premultiplied alpha.",
                    layer.Alpha == AlphaMode.None
                        ? new SetLayer(layer.Name) { Alpha = AlphaMode.Premultiplied }
                        : new WriteCells([
                            new CellText(
                                layer.Name,
                                PassKeys.Beauty,
                                (PassSheet.Read(context.Plan, layer, PassKeys.Beauty) with { Alpha = true }).ToString()
                            ),
                        ])
                );
            }
        }
    }
}

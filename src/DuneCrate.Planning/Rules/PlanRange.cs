using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Rules;

/// <summary>A range that is empty, or a layer outside its shot. One frame outside is a still on purpose.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanRange : PlanRule
{
    public override string Id => "plan.range";

    public override string Title => "Range outside the shot";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A range that is empty, or a layer outside its shot";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        FrameSet shot = context.Plan.Shot.Frames;
        if (shot.IsEmpty)
        {
            yield return Found(null, null, "frames", "The shot has no frames.", "Write a range such as 1001-1048.");
        }

        foreach (LayerPlan layer in context.Layers)
        {
            if (layer.Frames is { IsStill: false } frames && frames.Except(shot) is { IsEmpty: false } outside)
            {
                FrameSet inside = frames.Intersect(shot);
                yield return Found(
                    layer.Name,
                    null,
                    "frames",
                    $"Frames {outside} of {layer.Name} lie outside the shot's {shot}.",
                    inside.IsEmpty ? "Take the layer's own range out." : $"Cut its range to {inside}.",
                    new SetLayer(layer.Name) { Frames = inside.ToString() }
                );
            }

            foreach (PassPlan pass in layer.Passes.Where(p => p.Frames is { IsStill: false } own && !own.Except(shot).IsEmpty))
            {
                yield return Found(
                    layer.Name,
                    pass.Pass,
                    "frames",
                    $"Frames {pass.Frames!.Except(shot)} of {pass.Pass} lie outside the shot's {shot}.",
                    "Write frames of the shot, or take them out.",
                    new WriteCells([
                        new CellText(
                            layer.Name,
                            pass.Pass,
                            (PassSheet.Read(context.Plan, layer, pass.Pass) with { Frames = null }).ToString()
                        ),
                    ])
                );
            }
        }
    }
}

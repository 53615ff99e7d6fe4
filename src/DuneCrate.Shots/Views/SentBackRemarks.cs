using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Views;

/// <summary>Remarks on crates as findings of the shot.</summary>
internal static class SentBackRemarks
{
    /// <summary>A remark by the names of the plan; without frames it is about all that are planned.</summary>
    public static SentBack Of(CrateRemarkRow remark, Plan plan)
    {
        LayerPlan? layer = plan.Layers.FirstOrDefault(l => l.Name == remark.Layer);
        PlannedOutput? output = PlannedOutput
            .From(plan)
            .FirstOrDefault(o => o.Layer.Name == remark.Layer && o.Passes.Any(p => p.Pass == remark.Pass));
        FrameSet frames = FrameSet.TryParse(remark.Frames, out FrameSet? said, out _) ? said : FrameSet.Empty;
        return new SentBack(
            remark.Crate.Name ?? "",
            output?.Key ?? "",
            layer?.Name,
            remark.Pass.Length > 0 ? remark.Pass : null,
            frames.IsEmpty && layer is not null ? output?.Frames ?? plan.Shot.Frames : frames,
            remark.Words,
            remark.By
        );
    }
}

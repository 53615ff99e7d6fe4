using System.Text.Json.Serialization;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Says which object ids a pass asks for; an empty text asks for all of them.</summary>
public sealed record SetAskedIds(string Layer, string Pass, string Ids) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => $"ids of {Pass} of {Layer} set";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan) =>
        ChangeLayer(
            plan,
            Layer,
            layer =>
            {
                PassPlan pass = layer.FindPass(Pass) ?? throw new PlanEditException("ids", $"{Layer} does not plan {Pass}.");
                return FrameSet.TryParse(Ids, out FrameSet? ids, out string? problem)
                    ? PackMattes.Replaced(layer, pass with { Ids = ids.IsEmpty ? null : ids })
                    : throw new PlanEditException(
                        "ids",
                        problem.Replace(
                            "a frame or a range of frames; write 1001, 1001-1048 or 1001-1048x2",
                            "an id or a range of ids; write 1,3-5",
                            StringComparison.Ordinal
                        )
                    );
            }
        );
}

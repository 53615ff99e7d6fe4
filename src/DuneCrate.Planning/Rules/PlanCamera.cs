using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Rules;

/// <summary>No render camera, or one that the scene's roster does not have.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanCamera : SceneRule
{
    public override string Id => "plan.camera";

    public override string Title => "No such camera";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "No render camera, or not one of the scene's";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        string camera = context.Plan.Shot.Camera;
        string[] cameras = [.. context.Plan.Items.Where(i => i.Kind == ItemKind.Camera).Select(i => i.Name)];
        if (camera.Length == 0)
        {
            yield return Found(
                null,
                null,
                "camera",
                "The shot names no render camera.",
                cameras.Length > 0 ? $"Choose {Words.List(cameras)}." : "Name the camera to render through.",
                cameras.Length == 1 ? new SetShot { Camera = cameras[0] } : null
            );
        }
        else if (cameras.Length > 0 && !cameras.Contains(camera))
        {
            yield return Found(
                null,
                null,
                "camera",
                $"The shot renders through {camera}; the scene has {Words.List(cameras)}.",
                "Choose one of the scene's, or put it into the roster.",
                cameras.Length == 1 ? new SetShot { Camera = cameras[0] } : null
            );
        }
    }
}

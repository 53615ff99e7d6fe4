using System.Numerics;
using DuneCrate.Planning.Scene;
using DuneCrate.Planning.Scene.Helpers;

namespace DuneCrate.StandIns.Renderer;

/// <summary>
/// Camera, lamp, locators and a card of <em>The Kelp Post</em>, as an outside scene tool would export them. The stand-in's scene is
/// left-handed; here z points the other way.
/// </summary>
public static class KelpHelpers
{
    /// <summary>The table of a shot's helpers.</summary>
    public static string Write(HelperShot shot)
    {
        KelpScene[] scenes = [.. Enumerable.Range(shot.First, shot.Count).Select(f => new KelpScene(shot.Name, f))];
        SceneHelper Moving(string name, ItemKind kind, Func<KelpScene, Vector3> at) =>
            new(name, kind, [.. scenes.Select(s => new HelperPose(Turned(at(s)), Quaternion.Identity, Vector3.One))]);
        return HelperTable.Write(
            [
                new SceneHelper(
                    shot.Camera.Length > 0 ? shot.Camera : "cam_main",
                    ItemKind.Camera,
                    [.. scenes.Select(s => PoseOf(s.Camera))]
                )
                {
                    Lens = new HelperLens(Pinhole.VerticalFov(shot.Width, shot.Height), (double)shot.Width / shot.Height),
                },
                Moving("lamp", ItemKind.Light, s => s.Lamps[0]) with
                {
                    Light = new HelperLight("point", new Vector3(1, 0.73f, 0.38f), 2.6),
                },
                Moving("lamp_centre", ItemKind.Locator, s => CenterOf(s, "lamps")),
                Moving("dome_centre", ItemKind.Locator, s => CenterOf(s, "dome")),
                new SceneHelper("sea_floor", ItemKind.Locator, [new HelperPose(Vector3.Zero, Quaternion.Identity, Vector3.One)]),
                new SceneHelper(
                    "mist_card",
                    ItemKind.Plane,
                    [new HelperPose(new Vector3(0, 1.5f, -4), Quaternion.Identity, new Vector3(12, 4, 1))]
                ),
            ],
            shot.First
        );
    }

    private static Vector3 CenterOf(KelpScene scene, string item) => scene.Shapes.First(s => KelpScene.Items[s.Item].Name == item).Center;

    private static Vector3 Turned(Vector3 place) => place with { Z = -place.Z };

    private static HelperPose PoseOf(Pinhole camera)
    {
        (Vector3 right, Vector3 up, Vector3 forward) = (Turned(camera.Axes.Right), Turned(camera.Axes.Up), Turned(camera.Axes.Forward));
        var axes = new Matrix4x4(right.X, right.Y, right.Z, 0, up.X, up.Y, up.Z, 0, -forward.X, -forward.Y, -forward.Z, 0, 0, 0, 0, 1);
        return new HelperPose(Turned(camera.Eye), Quaternion.Normalize(Quaternion.CreateFromRotationMatrix(axes)), Vector3.One);
    }
}

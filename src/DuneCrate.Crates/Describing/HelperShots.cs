using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene.Helpers;

namespace DuneCrate.Crates.Describing;

/// <summary>Shots as scene helpers are held against them.</summary>
public static class HelperShots
{
    /// <summary>A plan's shot; null while it has no frames.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="shift">What is added to the numbers of frames.</param>
    public static HelperShot? Of(Plan plan, int shift = 0) =>
        plan.Shot.Frames.IsEmpty || plan.Shot.Height == 0
            ? null
            : new HelperShot(
                plan.Shot.Code,
                plan.Shot.Frames.First + shift,
                plan.Shot.Frames.Last + shift,
                plan.Shot.FrameRate,
                plan.Shot.Width,
                plan.Shot.Height,
                plan.Shot.PixelAspectRatio,
                plan.Shot.Camera
            );
}

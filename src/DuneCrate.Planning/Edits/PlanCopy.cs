using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>A new shot's plan made from another's: everything is kept but what belongs to the one shot.</summary>
public static class PlanCopy
{
    /// <summary>
    /// The plan for another shot. Ranges of layers and passes are moved along with the shot's first frame and cut to the new range; the
    /// test frame is forgotten.
    /// </summary>
    public static Plan Create(Plan source, string code, FrameSet frames, string camera)
    {
        int shift = source.Shot.Frames.IsEmpty || frames.IsEmpty ? 0 : frames.First - source.Shot.Frames.First;
        FrameSet? Moved(FrameSet? set)
        {
            if (set is null)
            {
                return null;
            }

            FrameSet moved = FrameSet.From(set.Intersect(source.Shot.Frames).Select(f => f + shift)).Intersect(frames);
            return set.IsStill ? FrameSet.Single(frames.Nearest(set.First + shift))
                : moved.IsEmpty ? null
                : moved;
        }

        return source with
        {
            Shot = source.Shot with { Code = code, Frames = frames, Camera = camera, TestFrame = null },
            Layers =
            [
                .. source.Layers.Select(l =>
                    l with
                    {
                        Frames = Moved(l.Frames),
                        Outputs =
                        [
                            .. l.Outputs.Select(o =>
                                o with
                                {
                                    Frames = Moved(o.Frames),
                                    Passes = [.. o.Passes.Select(p => p with { Frames = Moved(p.Frames) })],
                                }
                            ),
                        ],
                    }
                ),
            ],
        };
    }
}

using System.Globalization;

namespace DuneCrate.Foundation.Frames;

/// <summary>
/// Frames to percentages of a width, the same for ruler and lanes. Each frame is a slot; first and last belong to the scale.
/// </summary>
public sealed class FrameScale(FrameSet frames)
{
    private const int MostTicks = 120,
        MostLabels = 14;

    /// <summary>First frame.</summary>
    public int First { get; } = frames.IsEmpty ? 1 : frames.First;

    /// <summary>Last frame.</summary>
    public int Last { get; } = frames.IsEmpty ? 1 : frames.Last;

    /// <summary>Slots.</summary>
    public long Count => (long)Last - First + 1;

    /// <summary>Left edge of a frame's slot.</summary>
    public string Left(int frame) => Percent((double)(frame - (long)First) / Count);

    /// <summary>Middle of a frame's slot.</summary>
    public string Middle(int frame) => Percent((frame - (long)First + 0.5) / Count);

    /// <summary>Width of a run; stepped runs are drawn frame by frame by the caller.</summary>
    public string Width(FrameRun run) => Percent((double)((long)run.Last - run.First + 1) / Count);

    /// <summary>Frames that get a tick.</summary>
    public IEnumerable<int> Ticks()
    {
        long step = Nice((double)Count / MostTicks);
        for (
            long frame = First;
            frame <= Last;
            frame = frame == First && frame % step != 0 ? frame + step - ((frame % step + step) % step) : frame + step
        )
        {
            yield return (int)frame;
        }
    }

    /// <summary>Whether a tick is labelled: round numbers, and the ends where there is room.</summary>
    public bool IsLabelled(int frame)
    {
        long step = Nice((double)Count / MostLabels);
        return frame % step == 0 || (frame == First && (step - (((frame % step) + step) % step)) * 4 > step * 3);
    }

    private static long Nice(double least)
    {
        long step = 1;
        while (step < least)
        {
            string digits = step.ToString(CultureInfo.InvariantCulture);
            step = digits[0] switch
            {
                '1' => step * 2,
                '2' => step / 2 * 5,
                _ => step * 2,
            };
        }

        return step;
    }

    private static string Percent(double share) => string.Create(CultureInfo.InvariantCulture, $"{100 * share:0.###}%");
}

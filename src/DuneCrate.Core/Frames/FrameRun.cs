namespace DuneCrate.Core.Frames;

/// <summary>
/// An arithmetic run of frames: <c>First, First + Step, … , Last</c>. Both ends belong to the run.
/// A single frame has <c>First == Last</c> and step 1. Immutable; safe to share between threads.
/// </summary>
/// <param name="First">The lowest frame.</param>
/// <param name="Last">The highest frame; always reachable from <paramref name="First"/> in whole steps.</param>
/// <param name="Step">Frames from one to the next, at least 1.</param>
public readonly record struct FrameRun(int First, int Last, int Step)
{
    /// <summary>How many frames the run holds.</summary>
    public long Count => ((long)Last - First) / Step + 1;

    /// <summary>Whether <paramref name="frame"/> is one of the run's frames.</summary>
    public bool Contains(int frame) => frame >= First && frame <= Last && ((long)frame - First) % Step == 0;

    /// <summary>The part of the run inside <paramref name="low"/>..<paramref name="high"/> (inclusive), or nothing.</summary>
    internal FrameRun? Within(int low, int high)
    {
        long first = First, last = Last;
        if (low > first)
        {
            first += (low - first + Step - 1) / Step * Step;
        }

        if (high < last)
        {
            last = high < first ? high : first + (high - first) / Step * Step;
        }

        return first > last ? null : Of(first, last, Step);
    }

    /// <summary>The frames that two runs share: again a run, whose step is the least common multiple (Chinese remainder theorem).</summary>
    internal FrameRun? Shared(FrameRun other)
    {
        long gcd = Gcd(Step, other.Step);
        if ((other.First - (long)First) % gcd != 0)
        {
            return null;
        }

        long lcm = Step / gcd * other.Step;
        long frame = First;
        while (((frame - other.First) % other.Step) != 0)
        {
            frame += Step;
        }

        long low = Math.Max(First, other.First), high = Math.Min(Last, other.Last);
        if (frame < low)
        {
            frame += (low - frame + lcm - 1) / lcm * lcm;
        }

        return frame > high ? null : Of(frame, frame + (high - frame) / lcm * lcm, lcm);
    }

    private static FrameRun Of(long first, long last, long step) =>
        new((int)first, (int)last, first == last ? 1 : (int)step);

    private static long Gcd(long a, long b) => b == 0 ? a : Gcd(b, a % b);
}

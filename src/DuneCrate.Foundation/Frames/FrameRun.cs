namespace DuneCrate.Foundation.Frames;

/// <summary>
/// An arithmetic run of frames: <c>First, First + Step, … , Last</c>. Both ends belong to the run.
/// A single frame has <c>First == Last</c> and step 1. Immutable; safe to share between threads.
/// </summary>
/// <param name="First">The lowest frame.</param>
/// <param name="Last">The highest frame; always reachable from <paramref name="First"/> in whole steps.</param>
/// <param name="Step">Frames from one to the next, at least 1.</param>
public readonly record struct FrameRun(int First, int Last, long Step)
{
    /// <summary>How many frames the run holds.</summary>
    public long Count => ((long)Last - First) / Step + 1;

    /// <summary>Whether <paramref name="frame"/> is one of the run's frames.</summary>
    public bool Contains(int frame) => frame >= First && frame <= Last && ((long)frame - First) % Step == 0;

    /// <summary>The part of the run inside <paramref name="low"/>..<paramref name="high"/> (inclusive), or nothing.</summary>
    internal FrameRun? Within(long low, long high)
    {
        long first = First,
            last = Last;
        if (low > first)
        {
            first += (low - first + Step - 1) / Step * Step;
        }

        if (high < last)
        {
            last = high < first ? high : first + (high - first) / Step * Step;
        }

        return first > last ? null : Create(first, last, Step);
    }

    /// <summary>
    /// The frames that two runs share: again a run, whose step is the least common multiple. Its frames solve x ≡ First (mod Step), x ≡
    /// other.First (mod other.Step), by the Chinese
    /// remainder theorem with the extended Euclidean algorithm (Knuth, <em>The Art of Computer Programming</em>, volume 2, 4.3.2 and
    /// 4.5.2).
    /// </summary>
    internal FrameRun? Shared(FrameRun other)
    {
        (long gcd, long inverse) = Euclid(Step, other.Step);
        long apart = (long)other.First - First;
        if (apart % gcd != 0)
        {
            return null;
        }

        // Steps are below 2^31, so that no product here reaches 2^63.
        long modulus = other.Step / gcd,
            lcm = Step * modulus;
        long times = Modulo(apart / gcd % modulus * Modulo(inverse, modulus), modulus);
        long frame = First + times * Step,
            low = Math.Max(First, other.First),
            high = Math.Min(Last, other.Last);
        frame += frame < low ? (low - frame + lcm - 1) / lcm * lcm : -((frame - low) / lcm * lcm);
        return frame > high ? null : Create(frame, frame + (high - frame) / lcm * lcm, lcm);
    }

    /// <summary>Greatest common divisor of two steps, and the x of a·x + b·y = gcd.</summary>
    private static (long Gcd, long X) Euclid(long a, long b)
    {
        (long x, long next) = (1, 0);
        while (b != 0)
        {
            long quotient = a / b;
            (a, b) = (b, a - quotient * b);
            (x, next) = (next, x - quotient * next);
        }

        return (a, x);
    }

    private static long Modulo(long value, long modulus) => (value % modulus + modulus) % modulus;

    private static FrameRun Create(long first, long last, long step) => new((int)first, (int)last, first == last ? 1 : step);
}

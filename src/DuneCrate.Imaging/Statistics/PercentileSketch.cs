using System.Collections.Immutable;
using System.Runtime.Intrinsics;

namespace DuneCrate.Imaging.Statistics;

/// <summary>Percentiles from counts of values in ascending order.</summary>
public static class PercentileSketch
{
    /// <summary>The shares that are kept.</summary>
    public static readonly ImmutableArray<double> Shares = [0.001, 0.01, 0.05, 0.25, 0.5, 0.75, 0.95, 0.99, 0.999];

    /// <summary>The least value at which the running count reaches each share of <paramref name="total"/> (nearest rank).</summary>
    public static ImmutableArray<double> Compute(IEnumerable<(double Value, int Count)> ascending, long total)
    {
        var found = ImmutableArray.CreateBuilder<double>(Shares.Length);
        long seen = 0;
        foreach ((double value, int count) in ascending)
        {
            seen += count;
            while (found.Count < Shares.Length && seen >= Math.Ceiling(Shares[found.Count] * total))
            {
                found.Add(value);
            }

            if (found.Count == Shares.Length)
            {
                break;
            }
        }

        return found.ToImmutable();
    }

    /// <summary>Places of the sign-and-magnitude bit patterns of 16 bits, least value first: −max … −0, +0 … +max.</summary>
    public static IEnumerable<int> AscendingPatterns(int largest)
    {
        for (int bits = 0x8000 | largest; bits >= 0x8000; bits--)
        {
            yield return bits;
        }

        for (int bits = 0; bits <= largest; bits++)
        {
            yield return bits;
        }
    }

    /// <summary>
    /// The least pattern among the positive ones above which at least <paramref name="enough"/> samples lie, or 0: a bound that the
    /// percentile of the whole
    /// picture cannot fall below, whatever is still to come.
    /// </summary>
    public static int BoundFromTop(ReadOnlySpan<int> counts, int largest, long enough)
    {
        long seen = 0;
        int top = largest + 1;
        for (; top >= Vector256<int>.Count; top -= Vector256<int>.Count)
        {
            Vector256<int> some = Vector256.Create(counts[(top - Vector256<int>.Count)..top]);
            if (some != Vector256<int>.Zero && (seen += Vector256.Sum(some)) > enough)
            {
                seen -= Vector256.Sum(some);
                break;
            }
        }

        for (int bits = top - 1; bits > 0; bits--)
        {
            seen += counts[bits];
            if (seen > enough)
            {
                return bits;
            }
        }

        return 0;
    }
}

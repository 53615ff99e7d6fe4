namespace DuneCrate.Checking.Rules;

/// <summary>
/// Values that jump out of a series. Source of the factor: for normal data the median absolute deviation times 1.4826 (1 / Φ⁻¹(3/4))
/// estimates the standard
/// deviation; Rousseeuw and Croux, <em>Alternatives to the Median Absolute Deviation</em> (1993).
/// </summary>
public static class Outliers
{
    /// <summary>Makes a median absolute deviation a standard deviation for normal data.</summary>
    public const double Scale = 1.4826;

    /// <summary>Median of the values; of an even number the mean of the middle two. 0 without values.</summary>
    public static double Median(IEnumerable<double> values)
    {
        double[] sorted = [.. values.Order()];
        return sorted.Length == 0 ? 0 : (sorted[(sorted.Length - 1) / 2] + sorted[sorted.Length / 2]) / 2;
    }

    /// <summary>Scaled median absolute deviation from the median.</summary>
    public static double ScaledDeviation(IReadOnlyCollection<double> values)
    {
        double median = Median(values);
        return Scale * Median(values.Select(v => Math.Abs(v - median)));
    }

    /// <summary>The median of <paramref name="window"/> values around each; at the ends of the window's first and last values.</summary>
    public static double[] RunningMedian(IReadOnlyList<double> values, int window) =>
        [.. Enumerable.Range(0, values.Count).Select(i => Median(Around(values, i, window)))];

    /// <summary>
    /// Places of the values that are off the median of the window around them by more than so many scaled deviations of that window, and by
    /// more than a share of the
    /// median: what rises, falls or swings slowly spreads its own window and is passed over.
    /// </summary>
    public static IEnumerable<int> Find(IReadOnlyList<double> values, int window, double deviations, double share)
    {
        for (int i = 0; values.Count >= window && i < values.Count; i++)
        {
            if (IsCalm(values, First(values, i, window), window, share))
            {
                continue;
            }

            double[] around = Around(values, i, window);
            double median = Median(around),
                off = Math.Abs(values[i] - median);
            if (off > share * Math.Abs(median) && off > deviations * ScaledDeviation(around))
            {
                yield return i;
            }
        }
    }

    private static int First(IReadOnlyList<double> values, int place, int window) =>
        Math.Clamp(place - window / 2, 0, Math.Max(0, values.Count - window));

    /// <summary>Whether the values of a window lie so near to each other that none can be that far from any median of theirs.</summary>
    private static bool IsCalm(IReadOnlyList<double> values, int first, int window, double share)
    {
        (double least, double most) = (values[first], values[first]);
        for (int i = first + 1; i < first + window; i++)
        {
            least = Math.Min(least, values[i]);
            most = Math.Max(most, values[i]);
        }

        return most - least <= share * Math.Abs(values[first]) / (1 + share);
    }

    private static double[] Around(IReadOnlyList<double> values, int place, int window)
    {
        int first = First(values, place, window);
        return [.. Enumerable.Range(first, Math.Min(window, values.Count)).Select(k => values[k])];
    }
}

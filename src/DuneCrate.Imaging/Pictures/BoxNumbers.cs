namespace DuneCrate.Imaging.Pictures;

/// <summary>What the samples of a box say, those that are numbers; the deviation is of the population.</summary>
/// <param name="Min">The least.</param>
/// <param name="Mean">The mean.</param>
/// <param name="Max">The greatest.</param>
/// <param name="Deviation">The standard deviation.</param>
/// <param name="Odd">Samples that are no number, infinite or below 0.</param>
public readonly record struct BoxNumbers(double Min, double Mean, double Max, double Deviation, long Odd)
{
    /// <summary>The numbers of some samples.</summary>
    public static BoxNumbers Of(ReadOnlySpan<float> samples)
    {
        (double min, double max, double sum, double mean, double squares) = (double.PositiveInfinity, double.NegativeInfinity, 0, 0, 0);
        long count = 0,
            odd = 0;
        foreach (float sample in samples)
        {
            odd += !float.IsFinite(sample) || sample < 0 ? 1 : 0;
            if (!float.IsFinite(sample))
            {
                continue;
            }

            count++;
            sum += sample;
            // Welford 1962: the running mean and the sum of squares about it.
            double off = sample - mean;
            mean += off / count;
            squares += off * (sample - mean);
            (min, max) = (Math.Min(min, sample), Math.Max(max, sample));
        }

        return count == 0 ? new BoxNumbers(0, 0, 0, 0, odd) : new BoxNumbers(min, sum / count, max, Math.Sqrt(squares / count), odd);
    }
}

namespace DuneCrate.Imaging.Statistics;

/// <summary>
/// Statistics of one channel over the finite samples of the data window. Without any finite sample minimum, maximum, mean and
/// deviation are 0.
/// </summary>
public sealed record SampleStatistics
{
    /// <summary>Least value.</summary>
    public double Min { get; init; }

    /// <summary>Greatest value.</summary>
    public double Max { get; init; }

    /// <summary>Arithmetic mean.</summary>
    public double Mean { get; init; }

    /// <summary>Standard deviation of the population: √(Σ(v − mean)² / n).</summary>
    public double StdDev { get; init; }

    /// <summary>NaN samples.</summary>
    public long Nan { get; init; }

    /// <summary>Infinite samples.</summary>
    public long Inf { get; init; }

    /// <summary>All samples.</summary>
    public long Pixels { get; init; }

    /// <summary>Samples below −0.0001: less than rounding and filters make.</summary>
    public long Negative { get; init; }

    /// <summary>Samples that are 0.</summary>
    public long Zero { get; init; }

    /// <summary>Samples that are exactly 1.</summary>
    public long One { get; init; }

    /// <summary>Samples above 1.</summary>
    public long AboveOne { get; init; }

    /// <summary>
    /// The values below which 0.1, 1, 5, 25, 50, 75, 95, 99 and 99.9 percent of the finite samples lie: exact for half and 8- and 16-bit,
    /// within
    /// 1/128 of the value for float. Empty without samples and for 32-bit whole numbers.
    /// </summary>
    public System.Collections.Immutable.ImmutableArray<double> Percentiles { get; init; } = [];

    /// <summary>XXH3 (64 bit, hexadecimal) of the samples as stored, line by line.</summary>
    public string Hash { get; init; } = "";

    /// <summary>The 8-bit grid on which all samples lie: linear, srgb, or null when some do not.</summary>
    public string? Grid { get; init; }

    /// <summary>Distinct values: exact for half; for other types counted on the 8-bit grid only.</summary>
    public int Levels { get; init; }

    /// <summary>x and y of the first sample that is no number, or null.</summary>
    public int[]? FirstNonFinite { get; init; }

    /// <summary>The box around all samples that are no numbers: minX, minY, maxX, maxY; or null.</summary>
    public int[]? NonFiniteBox { get; init; }

    private static readonly string[] Marks = ["0.1 %", "1 %", "5 %", "25 %", "half", "75 %", "95 %", "99 %", "99.9 %"];

    /// <summary>Where a value lies among the frame's, in words: "above 95 %"; null where nothing is known of them.</summary>
    public string? Among(double value)
    {
        if (Percentiles.Length != Marks.Length || !double.IsFinite(value) || Min == Max)
        {
            return null;
        }

        int above = Percentiles.Count(p => value > p);
        return value >= Max ? "the greatest of the frame"
            : value <= Min ? "the least of the frame"
            : above == 0 ? $"among the lowest {Marks[0]}"
            : $"above {Marks[above - 1]} of the frame";
    }
}

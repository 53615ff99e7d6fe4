using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// Counts lone bright pixels: in some colour above 8 × the median of the eight neighbours and above the frame's 99.9th percentile. The
/// percentile is known only
/// when the frame has gone by, so pixels are held against a bound that it cannot fall below, and the few that pass are held against it in
/// the end.
/// </summary>
internal abstract class FireflyMeasure(int[] colour) : PassMeasure
{
    /// <summary>How many times the median of its neighbours a lone bright pixel exceeds.</summary>
    protected const float TimesMedian = 8;

    private readonly List<(int X, int Y, int Colour, float Value)> _candidates = [];

    /// <summary>The colour channels, each once.</summary>
    protected int[] Channels { get; } = [.. colour.Distinct()];

    /// <summary>
    /// Looks at one pixel of the colour <paramref name="c"/> for sure; <paramref name="around"/> are its neighbours, and are sorted.
    /// </summary>
    protected void Judge(int c, float value, Span<float> around, int x, int y)
    {
        around.Sort();
        if (float.IsFinite(value) && value > TimesMedian * (around[3] + around[4]) / 2)
        {
            _candidates.Add((x, y, c, value));
        }
    }

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics)
    {
        double[] limits = [.. Channels.Select(c => statistics[c].Finish().Percentiles is { IsEmpty: false } p ? p[^1] : 0)];
        var lone = _candidates.Where(c => c.Value > limits[c.Colour]).ToArray();
        if (lone.Length == 0)
        {
            return facts with { Fireflies = new FireflyFacts(0, 0, null) };
        }

        (int x, int y, _, float worst) = lone.MaxBy(c => c.Value);
        double times = lone.Max(c => limits[c.Colour] > 0 ? c.Value / limits[c.Colour] : 0);
        return facts with { Fireflies = new FireflyFacts(lone.Select(c => (c.X, c.Y)).Distinct().Count(), worst, [x, y], times) };
    }
}

using System.Collections.Immutable;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>
/// Mean residuals along the frames, drawn on 1000 × 60 with the limit: heights are square roots, so that small ones are seen beside large
/// ones.
/// </summary>
/// <param name="Bars">The frames that were measured, ascending.</param>
/// <param name="LimitY">How far down the limit lies.</param>
public sealed record ResidualStrip(ImmutableArray<ResidualBar> Bars, double LimitY)
{
    /// <summary>Height of the drawing.</summary>
    public const int Height = 60;

    private const int Wide = 1000;
    private const double Tallest = Height - 2,
        HeadRoom = 4;

    /// <summary>The first frame that is off, or null.</summary>
    public int? Begins => Bars.FirstOrDefault(b => b.IsOff)?.Frame;

    /// <summary>The strip of a range.</summary>
    /// <param name="range">The frames that it is as wide as.</param>
    /// <param name="measured">What was measured.</param>
    /// <param name="limits">From which mean residual and share of pixels on a frame is off.</param>
    public static ResidualStrip From(
        FrameSet range,
        IEnumerable<(int Frame, RebuildFacts Facts)> measured,
        (double Mean, double Off) limits
    )
    {
        (int Frame, RebuildFacts Facts)[] all = [.. measured.OrderBy(m => m.Frame)];
        double most = Math.Max(HeadRoom * limits.Mean, all.Select(m => m.Facts.MeanResidual).DefaultIfEmpty().Max()),
            wide = Wide / ((double)range.Last - range.First + 1);
        double Y(double residual) => Height - Math.Max(1, Tallest * Math.Sqrt(residual / most));
        return new ResidualStrip(
            [
                .. all.Select(m => new ResidualBar(
                    m.Frame,
                    wide * (m.Frame - range.First),
                    Math.Max(1, wide - 1),
                    Y(m.Facts.MeanResidual),
                    RebuildResidual.IsOff(m.Facts, limits.Mean, limits.Off),
                    m.Facts.MeanResidual
                )),
            ],
            Y(limits.Mean)
        );
    }
}

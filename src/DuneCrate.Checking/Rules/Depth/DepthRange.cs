using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Every distance is the background's, all are equal, or some are zero or negative; or, where the plan says near and far, distances beyond
/// them. What stands for
/// the background does not count. Far is met within 1/64, twice what the farthest distance is known to.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class DepthRange : PixelRule
{
    private const double FarTolerance = 1 + 1 / 64.0;

    public override string Id => "depth.range";

    public override string Title => "Implausible distances";

    public override Severity Severity => Severity.Warning;

    public override string Question => "All at far, all equal, zero or negative, or outside the planned near and far";

    public override IEnumerable<Finding> Check(CheckContext context) => Senseless(context).Concat(Outside(context));

    private IEnumerable<Finding> Outside(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null
        from pass in output.Passes
        let planned = output.Planned!.Passes.First(p => p.Pass == pass.Name)
        where planned.Near is not null || planned.Far is not null
        let bad = output
            .Files.Where(f => Measured(pass, f)?.Depth is { } d && (d.Nearest < planned.Near || d.Farthest > planned.Far * FarTolerance))
            .ToArray()
        where bad.Length > 0
        let frames = FrameSet.From(bad.Select(f => f.Frame))
        let least = bad.Min(f => Measured(pass, f)!.Depth!.Nearest)
        let most = bad.Max(f => Measured(pass, f)!.Depth!.Farthest)
        select About(
            output,
            frames,
            Text(planned.Near, planned.Far),
            string.Create(CultureInfo.InvariantCulture, $"{least:0.###} to {most:0.###}"),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{pass.Name} runs from {least:0.###} to {most:0.###} in {At(frames)}; {Text(planned.Near, planned.Far)} is planned."
            ),
            "Look whether camera and units are right, or change near and far in the plan.",
            RemedyKind.Look,
            pass.Name
        );

    private static string Text(double? near, double? far) =>
        string.Create(CultureInfo.InvariantCulture, $"{near ?? 0:0.###} to {(far is { } end ? $"{end:0.###}" : "any distance")}");

    private IEnumerable<Finding> Senseless(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.Has(PassMeasures.Depth) == true
        from odd in Group(output.Files, f => Judge(pass, f))
        select About(
            output,
            odd.Frames,
            "distances above 0 that differ",
            Text(odd.Verdict),
            $"{pass.Name} is {Text(odd.Verdict)} in {At(odd.Frames)}.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender,
            pass.Name
        );

    private static Verdict? Judge(CheckedPass pass, CheckedFile file)
    {
        if (Samples(pass, file).Select(s => s.Samples).FirstOrDefault() is not { } z || z.Pixels == z.Nan + z.Inf)
        {
            return null;
        }

        bool isZeroAmongDistances = z.Zero > 0 && (z.Zero < z.Pixels / 1000 || (z.Percentiles is { Length: 9 } p && p[4] > 0));
        return z.Min == z.Max ? (z.Min == 0 ? Verdict.ZeroEverywhere : Verdict.SameEverywhere)
            : z.Min < 0 ? Verdict.Negative
            : isZeroAmongDistances ? Verdict.ZeroInPlaces
            : null;
    }

    private static string Text(Verdict verdict) =>
        verdict switch
        {
            Verdict.ZeroEverywhere => "0 everywhere",
            Verdict.SameEverywhere => "the same everywhere",
            Verdict.Negative => "negative in places",
            _ => "0 in places",
        };

    private enum Verdict
    {
        ZeroEverywhere,
        SameEverywhere,
        Negative,
        ZeroInPlaces,
    }
}

using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Occlusion or shadow outside 0..1 by more than 0.001, or below 0.98 where the file's alpha says that nothing is there.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class ModulateRange : PixelRule
{
    private static readonly RuleThreshold Tolerance = new("tolerance", 1e-3, "how far below 0 or above 1");
    private static readonly RuleThreshold Share = new("share", 0.01, "share of empty pixels that may be dark");

    public override string Id => "modulate.range";

    public override string Title => "Occlusion or shadow out of range";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Occlusion or shadow outside 0..1, or its background not white";

    public override ImmutableArray<RuleThreshold> Thresholds => [Tolerance, Share];

    /// <summary>Without light nothing is lit, occlusion and shadow included.</summary>
    public override ImmutableArray<Type> Causes => [typeof(PixelsBlack)];

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        let tolerance = context.Threshold(this, Tolerance)
        from pass in output.Passes
        where pass.Definition?.Kind == PassKind.Modulate
        from odd in Group(
            output.Files,
            f =>
                Colours(pass, f).Any(c => c.Samples.Min < -tolerance || c.Samples.Max > 1 + tolerance) ? Verdict.OutsideItsRange
                : Measured(pass, f)?.Ground is { Empty: > 0 } g && g.Dark > context.Threshold(this, Share) * g.Empty
                    ? Verdict.NotWhiteWhereNothingIs
                : (Verdict?)null
        )
        select About(
            output,
            odd.Frames,
            "0 to 1, white where nothing happens",
            Text(odd.Verdict),
            $"{pass.Name} is {Text(odd.Verdict)} in {At(odd.Frames)}; multiplied over a picture it changes what it should not.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender,
            pass.Name
        ) with
        {
            At = Measured(pass, odd.First)?.Ground?.At,
        };

    private static string Text(Verdict verdict) => verdict == Verdict.OutsideItsRange ? "outside 0 to 1" : "not white where nothing is";

    private enum Verdict
    {
        OutsideItsRange,
        NotWhiteWhereNothingIs,
    }
}

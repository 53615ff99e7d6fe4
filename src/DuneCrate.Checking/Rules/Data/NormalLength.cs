using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Normals off unit length by more than 2 % in more than a share of the covered pixels; all axes within 0..1 means that they were encoded
/// for an integer format.
/// </summary>
/// <remarks>Source: a unit vector has length 1.</remarks>
public sealed class NormalLength : PixelRule
{
    private static readonly RuleThreshold Share = new("share", 0.01, "share of covered pixels");

    public override string Id => "normal.length";

    public override string Title => "Normals are not of unit length";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Length off 1 by more than 2 % where covered; encoded as 0..1";

    public override ImmutableArray<RuleThreshold> Thresholds => [Share];

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.Has(PassMeasures.Normal) == true
        from odd in Group(
            output.Files,
            f =>
                Measured(pass, f)?.Normal is { Covered: > 0 } n
                    ? IsEncoded(pass, f, n)
                        ? Verdict.Encoded
                        : n.Off > context.Threshold(this, Share) * n.Covered
                            ? Verdict.OtherLengths
                            : (Verdict?)null
                    : null
        )
        let normal = Measured(pass, odd.First)!.Normal!
        select About(
            output,
            odd.Frames,
            "unit length",
            string.Create(CultureInfo.InvariantCulture, $"{Text(odd.Verdict)}, mean length {normal.MeanLength:0.###}"),
            string.Create(
                CultureInfo.InvariantCulture,
                $"Normals are {Text(odd.Verdict)} in {At(odd.Frames)}: {Words.Percent((double)normal.Off / normal.Covered)} of the "
                    + $"covered pixels are off; the mean length is {normal.MeanLength:0.##}."
            ),
            odd.Verdict == Verdict.Encoded
                ? "Write them as they are, from −1 to 1."
                : $"Switch filtering off for it. {Rerender(output, odd.Frames)}",
            odd.Verdict == Verdict.Encoded ? RemedyKind.Look : RemedyKind.Rerender,
            pass.Name
        ) with
        {
            At = normal.At,
        };

    private static bool IsEncoded(CheckedPass pass, CheckedFile file, NormalFacts normal) =>
        normal.Off * 2 > normal.Covered && Samples(pass, file).All(c => c.Samples.Min >= 0 && c.Samples.Max <= 1);

    private static string Text(Verdict verdict) => verdict == Verdict.Encoded ? "encoded as 0 to 1" : "of other lengths";

    private enum Verdict
    {
        Encoded,
        OtherLengths,
    }
}

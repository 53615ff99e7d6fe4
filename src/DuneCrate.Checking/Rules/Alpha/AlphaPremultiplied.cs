using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Planned premultiplied: colour where alpha is 0, emission, reflection and volume excepted. Planned straight: colour that never exceeds
/// alpha at soft edges.
/// </summary>
/// <remarks>Source: Porter and Duff (1984); OpenEXR, Premultiplied vs. unpremultiplied colour.</remarks>
public sealed class AlphaPremultiplied : PixelRule
{
    private static readonly RuleThreshold Share = new("share", 0.001, "share of empty pixels with colour that is tolerated");

    public override string Id => "alpha.premultiplied";

    public override string Title => "Premultiplied and straight mixed up";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Colour and alpha do not go together as planned";

    public override ImmutableArray<RuleThreshold> Thresholds => [Share];

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null
        from pass in output.Passes
        where pass.Definition?.Kind == PassKind.Combined
        from odd in Group(
            output.Files,
            f => Measured(pass, f)?.Alpha is { } a ? Judge(output.Planned!.Layer.Alpha, a, context.Threshold(this, Share)) : null
        )
        let alpha = Measured(pass, odd.First)!.Alpha!
        select About(
            output,
            odd.Frames,
            $"{Words.Choice(output.Planned!.Layer.Alpha)} colour",
            Words.Choice(odd.Verdict),
            odd.Verdict == Verdict.ColourWhereAlphaIs0
                ? $"{pass.Name} has colour where alpha is 0 in {At(odd.Frames)}: {alpha.Lit:N0} of {alpha.Empty:N0} pixels. It was "
                    + $"written straight, or something shines there that no pass says."
                : $"{pass.Name} never exceeds its alpha at soft edges in {At(odd.Frames)}: it was written premultiplied.",
            "Find out which one it is: read the wrong way it has dark or bright rims.",
            RemedyKind.Look,
            pass.Name
        ) with
        {
            At = alpha.At,
        };

    private static Verdict? Judge(AlphaMode planned, AlphaFacts alpha, double share) =>
        planned switch
        {
            AlphaMode.Premultiplied when alpha.LooksStraight(share) => Verdict.ColourWhereAlphaIs0,
            AlphaMode.Straight when alpha.LooksPremultiplied => Verdict.ColourBelowAlphaAtEverySoftEdge,
            _ => null,
        };

    private enum Verdict
    {
        ColourWhereAlphaIs0,
        ColourBelowAlphaAtEverySoftEdge,
    }
}

using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// The light passes do not reach the beauty: mean |beauty − Σ terms| above 0.5 % of the mean beauty, or 1 % of pixels off by more than
/// 2 % of max(beauty, 0.05); a blocker above ten times either.
/// </summary>
/// <remarks>Source: light is additive: the light passes of a family sum to the beauty; common practice.</remarks>
public sealed class RebuildResidual : PixelRule
{
    private static readonly RuleThreshold Mean = new("mean", 0.005, "mean residual, as a share of the mean beauty");
    private static readonly RuleThreshold Off = new("pixels", 0.01, "share of pixels that are off");
    private static readonly RuleThreshold Blocker = new("blocker", 10, "times a limit above which it is a blocker");

    public override string Id => "rebuild.residual";

    public override string Title => "Light passes do not sum to the beauty";

    public override Severity Severity => Severity.Warning;

    public override string Question => "The light passes do not sum to the beauty";

    public override ImmutableArray<RuleThreshold> Thresholds => [Mean, Off, Blocker];

    /// <inheritdoc/>
    public override EvidenceKind Evidence => EvidenceKind.Residual;

    /// <summary>Mean residual and share of pixels from which on a show takes it for a warning.</summary>
    public (double Mean, double Off) LimitsOf(ShowPlan show) => (ValueOf(Mean, show.Rules), ValueOf(Off, show.Rules));

    /// <summary>The same in a check.</summary>
    public (double Mean, double Off) LimitsIn(CheckContext context) => (context.Threshold(this, Mean), context.Threshold(this, Off));

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        (double mean, double off) = LimitsIn(context);
        double blocker = context.Threshold(this, Blocker);
        foreach (CheckedOutput output in context.Outputs.Where(l => l.Planned?.HasBeauty == true))
        {
            var measured = output.Files.Select(f => (File: f, Facts: context.Rebuild(output, f))).Where(m => m.Facts is not null).ToArray();
            foreach (
                (Verdict verdict, FrameSet frames, _) in Group(
                    measured.Select(m => m.File),
                    f => Judge(context.Rebuild(output, f)!, mean, off, blocker)
                )
            )
            {
                RebuildFacts worst = measured
                    .Where(m => frames.Contains(m.File.Frame) && Judge(m.Facts!, mean, off, blocker) == verdict)
                    .MaxBy(m => m.Facts!.MeanResidual)
                    .Facts!;
                string guilty =
                    worst.Cause is { Kind: not RebuildCauseKind.MissingTerm, Sentence: { } cause } ? $"; {cause}"
                    : verdict.Guilty is { } term ? $"; {term} is most likely at fault"
                    : "";
                string found = $"mean residual {Words.Percent(worst.MeanResidual)}";
                yield return About(
                    output,
                    frames,
                    $"mean residual up to {Words.Percent(mean)}, up to {Words.Percent(off)} of pixels off",
                    $"{found}, {Words.Percent(worst.OffShare)} of pixels off",
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"The light passes do not sum to the beauty in {At(frames)}: {found}, worst {worst.MaxResidual:0.###} at "
                            + $"{worst.Worst![0]}, {worst.Worst[1]}{guilty}."
                    ),
                    $"Open the sum. {Rerender(output, frames)}",
                    RemedyKind.Rerender,
                    PassKeys.Beauty
                ) with
                {
                    Severity = verdict.IsBlocker ? Severity.Blocker : Severity.Warning,
                    At = worst.Worst,
                };
            }
        }
    }

    /// <summary>Whether the sum of an output's layer was measured in every frame and comes out.</summary>
    internal bool Holds(CheckContext context, CheckedOutput output)
    {
        (double mean, double off) = LimitsIn(context);
        return context.Intake.Depth == FactsDepth.Pixels
            && output.Files.All(f => context.Rebuild(output, f) is { } facts && !IsOff(facts, mean, off));
    }

    /// <summary>Whether a frame's light passes are off by more than the limits.</summary>
    public static bool IsOff(RebuildFacts facts, double mean, double off) => Times(facts, mean, off) > 1;

    /// <summary>How many times its limit the worse of the two numbers is.</summary>
    private static double Times(RebuildFacts facts, double mean, double off) => Math.Max(facts.MeanResidual / mean, facts.OffShare / off);

    private static Verdict? Judge(RebuildFacts facts, double mean, double off, double blocker)
    {
        double times = Times(facts, mean, off);
        return times <= 1 || facts.Worst is null ? null : new Verdict(times > blocker, facts.Guilty);
    }

    /// <summary>How far off a frame is, and the term that is most likely at fault.</summary>
    private readonly record struct Verdict(bool IsBlocker, string? Guilty);
}

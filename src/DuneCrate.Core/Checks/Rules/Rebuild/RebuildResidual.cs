using System.Globalization;
using DuneCrate.Core.Stacking;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// The light passes do not reach the beauty: mean |beauty − Σ terms| above 0.5 % of the mean beauty, or 1 % of pixels off by more than
/// 2 % of max(beauty, 0.05); a blocker above ten times either.
/// </summary>
public sealed class RebuildResidual : PixelRule
{
    /// <summary>Mean residual over mean beauty from which on it is a warning.</summary>
    public const double MeanLimit = 0.005;

    /// <summary>Share of pixels that are off from which on it is a warning.</summary>
    public const double OffLimit = 0.01;

    /// <summary>Above this many times a limit it is a blocker.</summary>
    public const double BlockerFactor = 10;

    public override string Id => "rebuild.residual";

    public override string Title => "Light passes do not reach the beauty";

    public override Severity Severity => Severity.Warning;

    public override string Question => "The light passes do not sum to the beauty";

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckLane lane in context.Lanes.Where(l => l.Planned?.HasBeauty == true))
        {
            var measured = lane.Files.Select(f => (File: f, Facts: context.Rebuild(lane, f))).Where(m => m.Facts is not null).ToArray();
            foreach ((string key, var frames, LaneFile first) in Group(measured.Select(m => m.File), f => Verdict(context.Rebuild(lane, f)!)))
            {
                RebuildFacts worst = frames.Select(f => context.Rebuild(lane, lane.ByFrame[f])).OfType<RebuildFacts>().MaxBy(r => r.MeanResidual)!;
                string guilty = worst.Guilty is { } term ? $"; {term} is most likely at fault" : "";
                yield return About(lane, frames, $"mean residual up to {Percent(MeanLimit)}, up to {Percent(OffLimit)} of pixels off",
                    $"mean residual {Percent(worst.MeanResidual)}, {Percent(worst.OffShare)} of pixels off",
                    string.Create(CultureInfo.InvariantCulture, $"The light passes do not sum to the beauty in {Words(frames)}: mean residual {Percent(worst.MeanResidual)}, worst {worst.MaxResidual:0.###} at {worst.Worst![0]}, {worst.Worst[1]}{guilty}."),
                    $"Open the sum. {Rerender(lane, frames)}", RemedyKind.Rerender, "beauty") with
                { Severity = key.StartsWith("blocker", StringComparison.Ordinal) ? Severity.Blocker : Severity.Warning, At = worst.Worst };
            }
        }
    }

    /// <summary>Whether a frame's light passes are off by more than the limits.</summary>
    public static bool IsOff(RebuildFacts facts) => Times(facts) > 1;

    /// <summary>How many times its limit the worse of the two numbers is.</summary>
    private static double Times(RebuildFacts facts) => Math.Max(facts.MeanResidual / MeanLimit, facts.OffShare / OffLimit);

    private static string? Verdict(RebuildFacts facts)
    {
        double times = Times(facts);
        return times <= 1 || facts.Worst is null ? null : $"{(times > BlockerFactor ? "blocker" : "warning")} {facts.Guilty}";
    }
}

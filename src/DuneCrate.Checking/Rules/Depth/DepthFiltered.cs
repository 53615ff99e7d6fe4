using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Share of edge pixels whose distance lies between both sides and on neither. A filtered edge is a distance where nothing is (common
/// practice). Few edges are judged with doubt: what counts is the lower end of the share's confidence interval (Wilson 1927, 95 %
/// one-sided).
/// </summary>
/// <remarks>Source: Wilson, Probable Inference (1927), for the least share that a count proves.</remarks>
public sealed class DepthFiltered : PixelRule
{
    private static readonly RuleThreshold Share = new("share", 0.35, "share of edge pixels in between that is tolerated");

    public override string Id => "depth.filtered";

    public override string Title => "Depth was filtered";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Edge pixels at a distance where nothing is";

    public override ImmutableArray<RuleThreshold> Thresholds => [Share];

    private const long LeastEdges = 20;

    /// <summary>How often a clean sequence may be suspected by chance.</summary>
    private const double Chance = 0.05;

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.Has(PassMeasures.Depth) == true
        let judged = output
            .Files.Select(f => (f.Frame, Depth: Measured(pass, f)?.Depth))
            .Where(f => f.Depth is { Edges: >= LeastEdges })
            .ToArray()
        let confidence = Confidence(judged.Length)
        let bad = judged.Where(f => LeastShare(f.Depth!.Between, f.Depth.Edges, confidence) > context.Threshold(this, Share)).ToArray()
        where bad.Length > 0
        let frames = FrameSet.From(bad.Select(f => f.Frame))
        let share = bad.Max(f => (double)f.Depth!.Between / f.Depth.Edges)
        select About(
            output,
            frames,
            "distances of one side or the other at edges",
            $"{Words.Percent(share)} of edge pixels in between",
            $"{pass.Name} is filtered in {At(frames)}: {Words.Percent(share)} of edge pixels are at a distance where nothing is.",
            $"Switch filtering off for it. {Rerender(output, frames)}",
            RemedyKind.Rerender,
            pass.Name
        ) with
        {
            At = bad[0].Depth!.At,
        };

    /// <summary>
    /// Deviations beyond which a normal distribution lies so rarely that none of so many frames should, since half of e^(−z²/2) bounds
    /// its tail.
    /// </summary>
    private static double Confidence(int frames) => Math.Sqrt(2 * Math.Log(Math.Max(1, frames) / (2 * Chance)));

    /// <summary>The lower end of Wilson's interval for a share that was counted.</summary>
    internal static double LeastShare(long between, long edges, double confidence)
    {
        double share = (double)between / edges,
            square = confidence * confidence / edges;
        return (share + square / 2 - confidence * Math.Sqrt(share * (1 - share) / edges + square / edges / 4)) / (1 + square);
    }
}

using System.Collections.Immutable;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>How the light passes of a layer sum to its beauty in a run of frames that are judged alike; numbers of the worst.</summary>
/// <param name="Layer">The layer.</param>
/// <param name="Frames">The frames.</param>
/// <param name="MeanResidual">Mean |beauty − sum| over the mean beauty.</param>
/// <param name="OffShare">Share of pixels that are off.</param>
/// <param name="Max">Greatest |beauty − sum|.</param>
/// <param name="Cause">Why.</param>
public sealed record RebuildEntry(string Layer, FrameSet Frames, double MeanResidual, double OffShare, double Max, RebuildCause Cause)
{
    /// <summary>The entries of everything that was measured, by layer and frame.</summary>
    public static ImmutableArray<RebuildEntry> From(CheckContext context)
    {
        RebuildResidual rule = RuleBook.Residual;
        (double mean, double off) = rule.LimitsIn(context);
        var entries = ImmutableArray.CreateBuilder<RebuildEntry>();
        foreach (CheckedOutput output in context.Outputs.Where(o => o.Planned?.HasBeauty == true && o.Layer is not null))
        {
            var run = new List<(int Frame, RebuildFacts Facts)>();
            RebuildCause? cause = null;
            foreach (CheckedFile file in output.Files.OrderBy(f => f.Frame))
            {
                if (context.Rebuild(output, file) is not { } facts)
                {
                    continue;
                }

                RebuildCause now = CauseOf(facts, mean, off);
                if (cause is not null && (cause.Kind, cause.Term) != (now.Kind, now.Term))
                {
                    entries.Add(Of(output.Layer!, run, mean, off));
                    run.Clear();
                }

                cause = now;
                run.Add((file.Frame, facts));
            }

            if (run.Count > 0)
            {
                entries.Add(Of(output.Layer!, run, mean, off));
            }
        }

        return entries.ToImmutable();
    }

    private static RebuildEntry Of(string layer, List<(int Frame, RebuildFacts Facts)> run, double mean, double off)
    {
        RebuildFacts worst = run.MaxBy(r => r.Facts.MeanResidual).Facts;
        return new RebuildEntry(
            layer,
            FrameSet.From(run.Select(r => r.Frame)),
            worst.MeanResidual,
            run.Max(r => r.Facts.OffShare),
            run.Max(r => r.Facts.MaxResidual),
            CauseOf(worst, mean, off)
        );
    }

    private static RebuildCause CauseOf(RebuildFacts facts, double mean, double off) =>
        RebuildResidual.IsOff(facts, mean, off) ? facts.Cause ?? RebuildCause.Unknown : RebuildCause.None;
}

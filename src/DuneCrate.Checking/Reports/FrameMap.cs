using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Reports;

/// <summary>The state of every frame of every output, from plan and report alone.</summary>
public static class FrameMap
{
    /// <summary>One row per planned output, in the plan's order. Without a report everything is pending.</summary>
    public static ImmutableArray<FrameMapRow> From(Plan plan, CheckReport? report) =>
        [.. PlannedOutput.From(plan).Select(o => Lane(o, report))];

    /// <summary>
    /// The lanes that a filter leaves, and of their frames those in question; others that are there are good or have something else. A
    /// filter for nothing leaves all.
    /// </summary>
    public static ImmutableArray<FrameMapRow> Only(ImmutableArray<FrameMapRow> rows, CheckReport? report, FindingFilter filter)
    {
        if (filter == FindingFilter.All)
        {
            return rows;
        }

        IEnumerable<FrameMapRow> left = rows.Where(l =>
            (filter.Layer is null || l.Layer == filter.Layer) && (filter.Pass is null || l.Passes.Contains(filter.Pass))
        );
        if (filter.Rule is not null || filter.Severity is not null || !string.IsNullOrWhiteSpace(filter.Words))
        {
            // Layer and pass choose rows, the state chooses among their runs.
            FindingFilter which = filter with
            {
                Layer = null,
                Pass = null,
                State = null,
            };
            var asked = (report?.Findings ?? [])
                .Where(f => f.Waived is null && which.Takes(f))
                .GroupBy(f => f.Output)
                .ToDictionary(g => g.Key, g => FrameSet.UnionOf(g.Select(f => f.Frames)));
            left = left.Where(l => asked.ContainsKey(l.Output)).Select(l => Quiet(l, r => r.Frames.Intersect(asked[l.Output])));
        }

        if (filter.State is { } state)
        {
            left = left.Where(l => l.Runs.Any(r => r.State == state))
                .Select(l => Quiet(l, r => r.State == state ? r.Frames : FrameSet.Empty));
        }

        return [.. left];
    }

    /// <summary>
    /// A row whose runs keep the chosen frames. Those that are there and have something else about them are marked so: never as good.
    /// </summary>
    private static FrameMapRow Quiet(FrameMapRow row, Func<FrameStateRun, FrameSet> keep)
    {
        FrameSet good = FrameSet.Empty,
            other = FrameSet.Empty;
        var runs = ImmutableArray.CreateBuilder<FrameStateRun>();
        foreach (FrameStateRun run in row.Runs)
        {
            FrameSet kept = keep(run);
            if (run.State is not (FrameState.Missing or FrameState.Pending))
            {
                good = run.State == FrameState.Good ? good.Union(run.Frames) : good;
                other = run.State == FrameState.Good ? other : other.Union(run.Frames.Except(kept));
            }

            if (run.State != FrameState.Good && !kept.IsEmpty)
            {
                runs.Add(run with { Frames = kept });
            }
        }

        if (!good.IsEmpty)
        {
            runs.Insert(0, new FrameStateRun(FrameState.Good, good));
        }

        if (!other.IsEmpty)
        {
            runs.Add(new FrameStateRun(FrameState.Other, other));
        }

        return row with
        {
            Runs = [.. runs.OrderBy(r => r.State)],
            Worst = runs.Count == 0 ? FrameState.Pending : runs.Max(r => r.State),
        };
    }

    private static FrameMapRow Lane(PlannedOutput output, CheckReport? report)
    {
        var passes = output.Passes.Select(p => p.Pass).ToImmutableArray();
        if (report is null)
        {
            return new FrameMapRow(
                output.Key,
                output.Layer.Name,
                output.ShortName,
                passes,
                [new FrameStateRun(FrameState.Pending, output.Frames)],
                FrameState.Pending
            );
        }

        SequenceSummary? sequence = report.Sequences.FirstOrDefault(s => s.Name == output.Key && s.Planned);
        FrameSet found =
            sequence is null ? FrameSet.Empty
            : sequence.Padding == 0 ? output.Frames
            : sequence.Frames;
        var left = output.Frames.Union(found);
        var states = new Dictionary<FrameState, FrameSet>();
        void Take(FrameState state, FrameSet frames)
        {
            frames = frames.Intersect(left);
            left = left.Except(frames);
            states[state] = states.GetValueOrDefault(state, FrameSet.Empty).Union(frames);
        }

        Finding[] findings =
        [
            .. report.Findings.Where(f => f.IsAbout(output.Key) && f.Waived is null && RuleBook.StateOf(f) != FrameState.Missing),
        ];
        FrameSet From(Func<Finding, bool> which) => FrameSet.UnionOf(findings.Where(which).Select(f => f.Frames));
        FrameSet misnamed = From(f => f.RemedyKind == RemedyKind.Rename && f.Severity == Severity.Blocker);
        Take(FrameState.Suspect, misnamed.Except(found));

        // What a folder holds that may not be read is not known to be missing.
        Take(FrameState.Damaged, From(f => f.Output != output.Key).Except(found));
        Take(FrameState.Missing, output.Frames.Except(found));
        Take(FrameState.Damaged, From(f => f.Severity == Severity.Blocker && RuleBook.StateOf(f) == FrameState.Damaged));
        Take(FrameState.Wrong, From(f => f.Severity == Severity.Blocker));
        Take(FrameState.Settling, From(f => f.RemedyKind == RemedyKind.Wait));
        Take(FrameState.Unplanned, found.Except(output.Frames));
        Take(FrameState.Suspect, From(f => f.Severity == Severity.Warning));
        Take(FrameState.Good, left);
        ImmutableArray<FrameStateRun> runs =
        [
            .. states.Where(s => !s.Value.IsEmpty).OrderBy(s => s.Key).Select(s => new FrameStateRun(s.Key, s.Value)),
        ];
        return new FrameMapRow(
            output.Key,
            output.Layer.Name,
            output.ShortName,
            passes,
            runs,
            runs.IsEmpty ? FrameState.Pending : runs[^1].State
        );
    }
}

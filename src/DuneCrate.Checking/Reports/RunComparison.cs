using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>
/// Two checks of one shot, finding by finding: what is new, still there and fixed. Findings are the same when rule, output and pass are.
/// </summary>
public static class RunComparison
{
    /// <summary>Compares; in the order new, still, fixed, then as the reports have them.</summary>
    public static ImmutableArray<ComparedFinding> Compute(CheckReport before, CheckReport after)
    {
        ILookup<(string, string, string?), Finding> earlier = before.Findings.ToLookup(Key),
            later = after.Findings.ToLookup(Key);
        var found = ImmutableArray.CreateBuilder<ComparedFinding>();
        foreach (Finding finding in after.Findings)
        {
            Finding[] same = [.. earlier[Key(finding)]];
            if (finding.Frames.IsEmpty || same.Any(f => f.Frames.IsEmpty))
            {
                found.Add(new ComparedFinding(same.Length > 0 ? FindingChange.Still : FindingChange.New, finding, finding.Frames));
                continue;
            }

            FrameSet known = FrameSet.UnionOf(same.Select(f => f.Frames));
            Add(FindingChange.New, finding, finding.Frames.Except(known));
            Add(FindingChange.Still, finding, finding.Frames.Intersect(known));
        }

        foreach (Finding finding in before.Findings)
        {
            Finding[] same = [.. later[Key(finding)]];
            if (finding.Frames.IsEmpty || same.Any(f => f.Frames.IsEmpty))
            {
                if (same.Length == 0)
                {
                    found.Add(new ComparedFinding(FindingChange.Fixed, finding, finding.Frames));
                }

                continue;
            }

            Add(FindingChange.Fixed, finding, finding.Frames.Except(FrameSet.UnionOf(same.Select(f => f.Frames))));
        }

        return [.. found.OrderBy(f => f.Change)];

        void Add(FindingChange since, Finding finding, FrameSet frames)
        {
            if (!frames.IsEmpty)
            {
                found.Add(new ComparedFinding(since, finding, frames));
            }
        }
    }

    private static (string, string, string?) Key(Finding finding) => (finding.Rule, finding.Output, finding.Pass);
}

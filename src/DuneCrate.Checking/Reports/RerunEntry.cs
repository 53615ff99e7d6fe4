using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>Frames of a layer that must be rendered again.</summary>
public sealed record RerunEntry(string Layer, FrameSet Frames)
{
    /// <summary>The rerun list of findings: those not waived whose remedy is to render again, merged per layer.</summary>
    public static ImmutableArray<RerunEntry> From(IEnumerable<Finding> findings) =>
        [
            .. findings
                .Where(IsAsked)
                .GroupBy(f => f.Layer!)
                .OrderBy(g => g.Key, StringComparer.Ordinal)
                .Select(g => new RerunEntry(g.Key, FrameSet.UnionOf(g.Select(f => f.Frames)))),
        ];

    /// <summary>Whether a finding puts its frames on the list.</summary>
    internal static bool IsAsked(Finding finding) =>
        finding is { RemedyKind: RemedyKind.Rerender, Waived: null, Layer: not null, Frames.IsEmpty: false };
}

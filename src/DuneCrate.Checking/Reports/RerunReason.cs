using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>Why frames of a layer are on the rerun list.</summary>
/// <param name="Output">The output that is wrong.</param>
/// <param name="Pass">The pass, or null when the whole file is.</param>
/// <param name="Frames">The frames.</param>
/// <param name="Title">The rule's title.</param>
public sealed record RerunReason(string Output, string? Pass, FrameSet Frames, string Title)
{
    /// <summary>The reasons of a layer, by first frame.</summary>
    public static ImmutableArray<RerunReason> From(string layer, IEnumerable<Finding> findings) =>
        [
            .. findings
                .Where(f => f.Layer == layer && RerunEntry.IsAsked(f))
                .Select(f => new RerunReason(f.Output, f.Pass, f.Frames, RuleBook.TitleOf(f.Rule)))
                .OrderBy(r => r.Frames.First)
                .ThenBy(r => r.Output, StringComparer.Ordinal),
        ];
}

using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Frames;
using DuneCrate.Shots.Views;

namespace DuneCrate.Web.Stations.Shared;

/// <summary>A portion of the findings that a page lists; the next is fetched when it is asked for.</summary>
public sealed record FindingItems
{
    /// <summary>Findings in a portion.</summary>
    public const int Portion = 60;

    private const int MostLetters = 80;

    private readonly Dictionary<Finding, int> _numbers = new(ReferenceEqualityComparer.Instance);

    /// <summary>The portion from a place on; the first reaches at least to the finding that is looked at.</summary>
    public FindingItems(ShotView view, int from)
    {
        ImmutableArray<Finding> all = view.ShownFindings;
        from = Math.Clamp(from, 0, all.Length);
        int seen = from > 0 ? -1 : all.ToList().FindIndex(f => IsSeen(view, f));
        View = view;
        foreach (Finding finding in view.Report?.Findings ?? [])
        {
            _numbers[finding] = _numbers.Count;
        }

        Findings = [.. all.Skip(from).Take(Math.Max(Portion, seen + 1))];
        Next = from + Findings.Length;
        Left = all.Length - Next;
    }

    /// <summary>The shot.</summary>
    public ShotView View { get; }

    /// <summary>The findings.</summary>
    public ImmutableArray<Finding> Findings { get; }

    /// <summary>Where the next portion begins.</summary>
    public int Next { get; }

    /// <summary>Findings after this portion.</summary>
    public int Left { get; }

    /// <summary>Place of a finding in the report.</summary>
    public int NumberOf(Finding finding) => _numbers.GetValueOrDefault(finding, -1);

    /// <summary>A frame set that fits into a line: cut after some runs, with the number of frames.</summary>
    public static string Short(FrameSet frames)
    {
        string text = frames.ToString();
        return text.Length <= MostLetters ? text : $"{text[..text.LastIndexOf(',', MostLetters)]}, … ({frames.LongCount:N0} frames)";
    }

    /// <summary>Whether a finding is about what is looked at.</summary>
    public static bool IsSeen(ShotView view, Finding finding) =>
        finding.Layer == view.Selected.Layer
        && finding.Frames.Contains(view.Selected.Frame ?? 0)
        && (finding.Pass is null || finding.Pass == view.Selected.Pass);
}

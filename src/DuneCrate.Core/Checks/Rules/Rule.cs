using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// One check: a stable id, a default severity and one clear question. A rule reads facts and opens no file. To add one, write a
/// class in the file of its family and name it in <see cref="RuleBook"/>.
/// </summary>
public abstract class Rule : IRule
{
    /// <summary>Stable id: family and name.</summary>
    public abstract string Id { get; }

    /// <summary>What it found, in a few words for lists.</summary>
    public abstract string Title { get; }

    /// <summary>Severity unless the show or the case says otherwise.</summary>
    public abstract Severity Severity { get; }

    /// <summary>The question, as in "frames of the plan with no file".</summary>
    public abstract string Question { get; }

    /// <inheritdoc/>
    public virtual ImmutableArray<RuleThreshold> Thresholds => [];

    /// <summary>What must have been read for it.</summary>
    public virtual FactsDepth Depth => FactsDepth.Header;

    /// <summary>Whether what it sees is often the consequence of something else: then it keeps still about frames of which another rule speaks already.</summary>
    public virtual bool IsSymptom => false;

    /// <summary>Everything it finds, in any order.</summary>
    public abstract IEnumerable<Finding> Check(CheckContext context);

    /// <summary>A finding about a output.</summary>
    protected Finding About(
        CheckedOutput output,
        FrameSet frames,
        string expected,
        string found,
        string message,
        string remedy,
        RemedyKind kind,
        string? pass = null
    ) =>
        new()
        {
            Rule = Id,
            Severity = Severity,
            Output = output.Key,
            Layer = output.Layer,
            Pass = pass,
            Frames = frames,
            Expected = expected,
            Found = found,
            Message = message,
            Remedy = remedy,
            RemedyKind = kind,
        };

    /// <summary>A finding about a sequence that is meant for an output and does not bear its name.</summary>
    protected Finding AboutStray(StraySequence stray, string found, string message, RemedyKind kind) =>
        new()
        {
            Rule = Id,
            Severity = Severity,
            Output = stray.Nearest!.Key,
            Layer = stray.Nearest!.Layer.Name,
            Frames = stray.Sequence.Frames,
            Expected = stray.Nearest!.Name.At(stray.Sequence.Files[0].Frame),
            Found = found,
            Message = message,
            Remedy = $"Rename {stray.Sequence.Name} to {stray.Nearest!.Key}.",
            RemedyKind = kind,
        };

    /// <summary>Groups the files for which <paramref name="found"/> gives a text by that text: one cause, one finding.</summary>
    protected static IEnumerable<(string Found, FrameSet Frames, CheckedFile First)> Group(
        IEnumerable<CheckedFile> files,
        Func<CheckedFile, string?> found
    ) =>
        files
            .Select(f => (File: f, Text: found(f)))
            .Where(f => f.Text is not null)
            .GroupBy(f => f.Text!, StringComparer.Ordinal)
            .Select(g => (g.Key, FrameSet.From(g.Select(f => f.File.Frame)), g.First().File));

    /// <summary>Groups by channels: the question is asked once for all files that have the same ones.</summary>
    protected static IEnumerable<(string Found, FrameSet Frames, CheckedFile First)> GroupByChannels(
        CheckedOutput output,
        Func<FileFacts, string?> found
    ) =>
        output
            .ByShape.Select(s => (Files: s, Text: found(s.Key.First)))
            .Where(s => s.Text is not null)
            .GroupBy(s => s.Text!, StringComparer.Ordinal)
            .Select(g => (g.Key, FrameSet.From(g.SelectMany(s => s.Files).Select(f => f.Frame)), g.First().Files.First()));

    /// <summary>"Re-render frames 1002-1005 of sub."</summary>
    protected static string Rerender(CheckedOutput output, FrameSet frames) =>
        $"Re-render {Words(frames)} of {(output.Layer.Length > 0 ? output.Layer : output.Key)}.";

    /// <summary>"frame 1002", "frames 1002-1005", "1 frame" style wording.</summary>
    protected static string Words(FrameSet frames) => frames.IsStill ? $"frame {frames}" : $"frames {frames}";

    /// <summary>"is" or "are".</summary>
    protected static string Are(FrameSet frames) => frames.IsStill ? "is" : "are";

    /// <summary>A share as a percentage with the digits that matter.</summary>
    protected static string Percent(double share) => string.Create(CultureInfo.InvariantCulture, $"{share * 100:0.##} %");
}

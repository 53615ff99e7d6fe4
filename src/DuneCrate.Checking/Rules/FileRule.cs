using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// One check of files after the render: a rule that reads facts. Its class holds its question, thresholds, verdict, the state it gives a
/// frame,
/// the pictures that show it and, as <see cref="Remedies.IReplans"/>, the change of the plan that settles it. To add one, write a class in
/// the folder of its family and name it in <see cref="RuleBook"/>.
/// </summary>
public abstract class FileRule : Rule
{
    /// <summary>What must have been read for it.</summary>
    public virtual FactsDepth Depth => FactsDepth.Header;

    /// <summary>
    /// Whether what it sees is often the consequence of something else: then it keeps still about frames of which another rule speaks
    /// already.
    /// </summary>
    public virtual bool IsSymptom => false;

    /// <summary>Whether a finding about the same output may be the reason of what a symptom's rule sees.</summary>
    public virtual bool IsExplainedBy(Finding cause) => true;

    /// <summary>
    /// Rules whose findings explain its own: about the same frames of the same layer it then only adds a line to theirs.
    /// </summary>
    public virtual ImmutableArray<Type> Causes => [];

    /// <summary>Which pictures show what it found.</summary>
    public virtual EvidenceKind Evidence => EvidenceKind.None;

    /// <summary>Everything it finds, in any order.</summary>
    public abstract IEnumerable<Finding> Check(CheckContext context);

    /// <summary>The state that one of its findings gives frames on the map.</summary>
    public virtual FrameState StateOf(Finding finding) => UsualStateOf(finding);

    /// <summary>The state that a finding gives frames by its remedy and weight alone.</summary>
    internal static FrameState UsualStateOf(Finding finding) =>
        finding switch
        {
            { RemedyKind: RemedyKind.Wait } => FrameState.Settling,
            { Severity: Severity.Blocker } => FrameState.Wrong,
            { Severity: Severity.Warning } => FrameState.Suspect,
            _ => FrameState.Good,
        };

    /// <summary>The same of a rule whose blockers are about broken files or pixels.</summary>
    protected static FrameState BrokenStateOf(Finding finding) =>
        UsualStateOf(finding) is var state && state == FrameState.Wrong ? FrameState.Damaged : state;

    /// <summary>A finding about an output.</summary>
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

    /// <summary>Groups the files about which there is a verdict by it.</summary>
    protected static IEnumerable<FileGroup<T>> Group<T>(IEnumerable<CheckedFile> files, Func<CheckedFile, T?> verdict)
        where T : class => Group(files.Select(f => (f, verdict(f))).Where(f => f.Item2 is not null).Select(f => (f.f, f.Item2!)));

    /// <inheritdoc cref="Group{T}(IEnumerable{CheckedFile}, Func{CheckedFile, T})"/>
    protected static IEnumerable<FileGroup<T>> Group<T>(IEnumerable<CheckedFile> files, Func<CheckedFile, T?> verdict)
        where T : struct => Group(files.Select(f => (f, verdict(f))).Where(f => f.Item2 is not null).Select(f => (f.f, f.Item2!.Value)));

    /// <summary>Groups by channels: the question is asked once for all files that have the same ones.</summary>
    protected static IEnumerable<FileGroup<T>> GroupByChannels<T>(CheckedOutput output, Func<FileFacts, T?> verdict)
        where T : struct =>
        Group(
            from shape in output.ByShape
            let found = verdict(shape.Key.First)
            where found is not null
            from file in shape
            select (file, found.Value)
        );

    /// <inheritdoc cref="GroupByChannels{T}"/>
    protected static IEnumerable<FileGroup<string>> GroupByChannels(CheckedOutput output, Func<FileFacts, string?> verdict) =>
        Group(
            from shape in output.ByShape
            let found = verdict(shape.Key.First)
            where found is not null
            from file in shape
            select (file, found)
        );

    /// <summary>"Re-render frames 1002-1005 of sub."</summary>
    protected static string Rerender(CheckedOutput output, FrameSet frames) =>
        $"Re-render {At(frames)} of {(output.Layer.Length > 0 ? output.Layer : output.Key)}.";

    /// <summary>"frame 1002" or "frames 1002-1005", inside a sentence.</summary>
    protected static string At(FrameSet frames) => $"{Words.Plural(frames.LongCount, "frame")} {frames}";

    /// <summary>"Frame 1002 says" or "Frames 1002-1005 say", to begin a sentence with.</summary>
    protected static string Subject(FrameSet frames, string one, string many) =>
        $"{Words.Plural(frames.LongCount, "Frame")} {frames} {(frames.IsStill ? one : many)}";

    private static IEnumerable<FileGroup<T>> Group<T>(IEnumerable<(CheckedFile File, T Verdict)> files) =>
        files.GroupBy(f => f.Verdict).Select(g => new FileGroup<T>(g.Key, FrameSet.From(g.Select(f => f.File.Frame)), g.First().File));
}

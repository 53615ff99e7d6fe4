using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Reports;
using DuneCrate.Checking.Rules;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking;

/// <summary>Holds a folder against a plan: facts in, report out.</summary>
public static class FolderCheck
{
    /// <summary>Takes the folder in and checks it.</summary>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    /// <exception cref="OperationCanceledException">The run was stopped; what was read is in the cache.</exception>
    public static CheckResult Run(CheckRequest request, CancellationToken cancel)
    {
        long start = request.Clock.GetTimestamp();
        var context = new CheckContext(request.Plan, TakeIn(request, cancel));
        CheckReport report = Judge(context);
        double seconds = Math.Round(request.Clock.GetElapsedTime(start).TotalSeconds, 3);
        return new CheckResult(context, report with { Summary = report.Summary with { Seconds = seconds } });
    }

    /// <summary>Takes the folder in, and asks no rule.</summary>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    /// <exception cref="OperationCanceledException">The run was stopped; what was read is in the cache.</exception>
    public static IntakeResult TakeIn(CheckRequest request, CancellationToken cancel) =>
        new IntakeRun(request.Cache, request.Limits)
        {
            ByContent = request.ByContent,
            Gatherer = request.Gatherer,
            Clock = request.Clock,
        }.Run(request.Folder, request.Plan, request.Depth, request.Progress, cancel);

    /// <summary>Asks every rule that the intake's depth allows. Opens no file.</summary>
    public static CheckReport Judge(CheckContext context)
    {
        (Plan? plan, IntakeResult intake) = (context.Plan, context.Intake);
        FileRule[] asked = [.. RuleBook.All.Where(r => r.Depth <= intake.Depth && context.Setting(r)?.Off != true)];
        Finding[] causes = UnderTheirCauses(Ask(asked.Where(r => !r.IsSymptom), context));

        // What is true of all frames does not explain what is odd about some.
        var whole = context.Outputs.ToLookup(o => o.Key, o => o.Frames);
        ILookup<string, Finding> byOutput = causes
            .Where(f => f.Severity != Severity.Note && !whole[f.Output].Any(all => all.Except(f.Frames).IsEmpty))
            .ToLookup(f => f.Output);
        IEnumerable<Finding> symptoms = Ask(asked.Where(r => r.IsSymptom), context)
            .Select(f =>
                f with
                {
                    Frames = byOutput[f.Output]
                        .Where(c => RuleBook.Find(f.Rule)!.IsExplainedBy(c))
                        .Aggregate(f.Frames, (left, cause) => left.Except(cause.Frames)),
                }
            )
            .Where(f => !f.Frames.IsEmpty);
        ImmutableArray<Finding> findings =
        [
            .. causes
                .Concat(symptoms)
                .Select(f =>
                    RuleBook.Find(f.Rule) is { } rule && context.Setting(rule)?.Severity is { } severity
                        ? f with
                        {
                            Severity = severity,
                        }
                        : f
                )
                .OrderBy(f => f.Severity)
                .ThenBy(f => f.Output, StringComparer.Ordinal)
                .ThenBy(f => f.Rule, StringComparer.Ordinal)
                .ThenBy(f => f.Frames.IsEmpty ? int.MinValue : f.Frames.First)
                .ThenBy(f => f.Pass, StringComparer.Ordinal)
                .ThenBy(f => f.Found, StringComparer.Ordinal),
        ];
        return new CheckReport
        {
            Root = intake.Folder.Display,
            Depth = intake.Depth,
            Rules = plan?.Show.Rules,
            Sequences = Summaries(context),
            Findings = findings,
            Rebuild = intake.Depth == FactsDepth.Pixels && plan is not null ? RebuildEntry.From(context) : null,
            Rerun = RerunEntry.From(findings),
            Summary = new CheckSummary(0, 0, 0, intake.Facts.Count, intake.Facts.Values.Sum(f => f.Bytes), 0).Count(findings),
        };
    }

    /// <summary>Findings without those that only follow from another: they become a line of it.</summary>
    private static Finding[] UnderTheirCauses(Finding[] findings)
    {
        var follows = new Dictionary<Finding, ImmutableArray<string>.Builder>(ReferenceEqualityComparer.Instance);
        var left = new List<Finding>();
        foreach (Finding finding in findings)
        {
            ImmutableArray<Type> causes = RuleBook.Find(finding.Rule)?.Causes ?? [];
            Finding? cause = causes.IsEmpty
                ? null
                : findings.FirstOrDefault(f =>
                    f.Layer == finding.Layer
                    && f.Severity <= finding.Severity
                    && RuleBook.Find(f.Rule) is { } rule
                    && causes.Contains(rule.GetType())
                    && finding.Frames.Except(f.Frames).IsEmpty
                );
            if (cause is null)
            {
                left.Add(finding);
                continue;
            }

            follows.TryAdd(cause, ImmutableArray.CreateBuilder<string>());
            follows[cause].Add(finding.Message);
        }

        return [.. left.Select(f => follows.TryGetValue(f, out var lines) ? f with { Follows = lines.ToImmutable() } : f)];
    }

    /// <summary>Rules only read what they are asked about, and are asked side by side.</summary>
    private static Finding[] Ask(IEnumerable<FileRule> rules, CheckContext context) =>
        [.. SideBySide.Map([.. rules], (rule, _) => rule.Check(context).ToArray()).SelectMany(found => found)];

    private static ImmutableArray<SequenceSummary> Summaries(CheckContext context) =>
        [
            .. context
                .Outputs.Where(l => !l.Files.IsEmpty)
                .Select(l =>
                    Summary(
                        l.Key,
                        l.Layer,
                        l.Name.Padding == 0 ? FrameSet.Empty : l.Frames,
                        l.Planned is null ? Gaps(context, l) : l.Planned.Frames.Except(l.Frames),
                        l.Name.Padding,
                        [.. l.Files.Select(f => f.Facts)]
                    )
                )
                .Concat(
                    context.Strays.Select(s =>
                        Summary(
                            s.Sequence.Name.ToString(),
                            s.IsMisnamed ? s.Nearest!.Layer.Name : s.Sequence.Name.Prefix.Split('/')[0],
                            s.Sequence.Frames,
                            s.Sequence.Gaps(),
                            s.Sequence.Name.Padding,
                            [.. s.Sequence.Files.Select(f => context.Intake.Facts[f.Path])]
                        ) with
                        {
                            Planned = false,
                        }
                    )
                )
                .OrderBy(s => s.Name, StringComparer.Ordinal),
        ];

    private static FrameSet Gaps(CheckContext context, CheckedOutput output) =>
        context.Intake.Sequences.First(s => s.Name == output.Name).Gaps();

    private static SequenceSummary Summary(string name, string layer, FrameSet frames, FrameSet missing, int padding, FileFacts[] files)
    {
        PixelBox? window = files.FirstOrDefault(f => !f.Parts.IsEmpty)?.Parts[0].DisplayWindow;
        return new SequenceSummary(
            name,
            layer,
            frames,
            missing,
            padding,
            files.Length,
            files.Sum(f => f.Bytes),
            (int)(window?.Width ?? 0),
            (int)(window?.Height ?? 0)
        );
    }
}

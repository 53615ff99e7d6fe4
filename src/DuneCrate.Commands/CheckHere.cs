using System.Globalization;
using DuneCrate.Checking;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;

namespace DuneCrate.Commands;

/// <summary>What a check is and says, in the ordinary command line and in the native one.</summary>
public static class CheckHere
{
    /// <summary>Checks a folder.</summary>
    /// <param name="place">The folder.</param>
    /// <param name="sheet">The plan; null for what can be judged without one.</param>
    /// <param name="depth">How far files are read.</param>
    /// <param name="gatherer">Who reads them; null for this process.</param>
    /// <param name="cancel">Stops.</param>
    public static CheckReport Run(StoragePath place, Plan? sheet, FactsDepth depth, IFactsGatherer? gatherer, CancellationToken cancel) =>
        FolderCheck.Run(Asked(place, sheet, depth) with { Gatherer = gatherer ?? GatheringHere.Shared }, cancel).Report;

    /// <summary>What a check is asked from a terminal: nothing is remembered, and its progress is said.</summary>
    public static CheckRequest Asked(StoragePath place, Plan? sheet, FactsDepth depth) =>
        new()
        {
            Folder = place,
            Plan = sheet,
            Depth = depth,
            Cache = new NoFactsCache(),
            Limits = Shared.Limits(),
            Progress = new ProgressLine<IntakeProgress>(Shared.Describe),
        };

    /// <summary>Says what was found; returns the exit code.</summary>
    /// <param name="report">The report.</param>
    /// <param name="inWords">Whether findings are said on standard output, which has no document then.</param>
    public static int Tell(CheckReport report, bool inWords)
    {
        if (inWords)
        {
            Say(report);
        }

        if (report.Summary.Files == 0)
        {
            Terminal.Tell($"dune: nothing was found: {report.Root} holds no pictures (exr, png, tif, jpg, tga).");
        }

        return report.Summary.Blockers > 0 || report.Summary.Files == 0 ? Outcome.Blocked : Outcome.Done;
    }

    private static void Say(CheckReport report)
    {
        foreach (Finding finding in report.Findings)
        {
            Terminal.Say($"{Words.Choice(finding.Severity), -8} {finding.Rule, -20} {finding.Output}: {finding.Message}");
            foreach (string line in finding.Follows ?? [])
            {
                Terminal.Say($"{"", -30}from it: {line}");
            }
        }

        CheckSummary s = report.Summary;
        Terminal.Say(
            string.Create(
                CultureInfo.InvariantCulture,
                $"{Words.Count(report.Sequences.Length, "sequence")}, {Words.Count(s.Files, "file")}, {ByteSize.Text(s.Bytes)} in "
                    + $"{s.Seconds:0.0} s: {Words.Count(s.Blockers, "blocker")}, {Words.Count(s.Warnings, "warning")}, "
                    + $"{Words.Count(s.Notes, "note")}"
            )
        );
        foreach (RerunEntry entry in report.Rerun)
        {
            Terminal.Say($"render again: {(entry.Layer.Length > 0 ? $"{entry.Layer} " : "")}{entry.Frames}");
        }
    }
}

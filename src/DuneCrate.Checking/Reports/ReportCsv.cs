using System.Globalization;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Checking.Reports;

/// <summary>Findings and rerun lists as comma-separated values (RFC 4180) with a header line.</summary>
public static class ReportCsv
{
    /// <summary>One line per finding.</summary>
    public static string Findings(CheckReport report) =>
        CsvText.Write(
            ["rule", "severity", "output", "layer", "pass", "frames", "expected", "found", "message", "remedy", "waived", "handed"],
            report.Findings.Select(f =>
                new[]
                {
                    f.Rule,
                    Words.Choice(f.Severity),
                    f.Output,
                    f.Layer,
                    f.Pass,
                    f.Frames.ToString(),
                    f.Expected,
                    f.Found,
                    f.Message,
                    f.Remedy,
                    f.Waived is null ? "" : $"{f.Waived.By}: {f.Waived.Reason}",
                    f.Handed is null ? "" : $"{f.Handed.To}: {f.Handed.Note}",
                }
            )
        );

    /// <summary>One line per layer that has frames to render again.</summary>
    public static string Rerun(CheckReport report) => Rerun(RerunList.From(report, 0, null));

    /// <summary>One line per portion of a rerun list.</summary>
    public static string Rerun(RerunList list) =>
        CsvText.Write(
            ["layer", "frames", "count"],
            list.Portions.Select(p => new[] { p.Layer, p.Frames.ToString(), p.Count.ToString(CultureInfo.InvariantCulture) })
        );

    /// <summary>One line per shot of a show.</summary>
    public static string Shots(ShowReport report) =>
        CsvText.Write(
            [
                "shot",
                "checked",
                "depth",
                "stale",
                "planned",
                "here",
                "missing",
                "files",
                "bytes",
                "blockers",
                "warnings",
                "notes",
                "waived",
                "rerun",
                "crate",
            ],
            report.Shots.Select(s =>
                new[]
                {
                    s.Shot,
                    s.Checked?.ToString("yyyy-MM-ddTHH:mm:ssZ", CultureInfo.InvariantCulture),
                    s.Depth,
                    s.Stale ? "yes" : "no",
                    Number(s.Planned),
                    Number(s.Here),
                    Number(s.Missing),
                    Number(s.Files),
                    Number(s.Bytes),
                    Number(s.Blockers),
                    Number(s.Warnings),
                    Number(s.Notes),
                    Number(s.Waived),
                    Number(s.Rerun),
                    s.Crate,
                }
            )
        );

    private static string Number(long number) => number.ToString(CultureInfo.InvariantCulture);
}

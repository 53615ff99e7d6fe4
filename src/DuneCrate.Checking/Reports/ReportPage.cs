using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>A report as one self-contained page: no script, no file beside it, readable on paper.</summary>
public static class ReportPage
{
    private const string Style = """
        body{font:14px/1.45 system-ui,sans-serif;color:#2b2a26;background:#f7f3ea;margin:2rem auto;max-width:1100px;padding:0 1rem}
        h1{font-size:1.3rem;margin:0}h2{font-size:1.05rem;margin:1.6rem 0 .4rem}
        table{border-collapse:collapse;width:100%;background:#fffdf7}
        th,td{text-align:left;padding:.3rem .55rem;border-bottom:1px solid #ddd4c0;vertical-align:top}
        th{font-weight:600;color:#5d584b}code{font:12.5px ui-monospace,monospace}.num{text-align:right;font-variant-numeric:tabular-nums}
        .blocker{color:#8f2417}.warning{color:#7a4f00}.note{color:#3f5566}.dim{color:#6a6557}b{white-space:nowrap}
        @media print{body{margin:0;background:#fff}tr{break-inside:avoid}}
        """;

    /// <summary>Writes the page.</summary>
    /// <param name="report">The report.</param>
    /// <param name="title">What was checked.</param>
    /// <param name="taken">When, UTC; null leaves it out, so that the same report gives the same bytes.</param>
    public static string Write(CheckReport report, string title, DateTime? taken = null)
    {
        CheckSummary s = report.Summary;
        HtmlDocument page = Begin(title);
        string read = report.Depth == FactsDepth.Pixels ? "every pixel" : "names, sizes and headers";
        page.Add(
            $"<p>{s.Blockers} blockers, {s.Warnings} warnings, {s.Notes} notes in {s.Files:N0} files, {s.Bytes / 1048576.0:N1} MiB; "
                + $"read: {read}."
        );
        string when = taken is { } at ? string.Create(CultureInfo.InvariantCulture, $", {at:yyyy-MM-dd HH:mm} UTC") : "";
        page.Add($" <span class=\"dim\">{report.Root}{when}</span></p>\n");
        if (report.Rules is { Count: > 0 } rules)
        {
            string changed = string.Join(", ", rules.Select(r => r.Value.Off ? $"{r.Key} off" : r.Key));
            page.Add($"<p class=\"dim\">The show changes {rules.Count} rules: {changed}.</p>\n");
        }

        Findings(page, "Findings", [.. report.Findings.Where(f => f.Waived is null)]);
        Findings(page, "Waived", [.. report.Findings.Where(f => f.Waived is not null)]);
        if (!report.Rerun.IsEmpty)
        {
            page.Add($"<h2>To render again</h2>\n<table><tr><th>Layer</th><th>Frames</th><th class=\"num\">Count</th></tr>\n");
            foreach (RerunEntry entry in report.Rerun)
            {
                page.Add(
                    $"<tr><td><b>{entry.Layer}</b></td><td><code>{Breakable(entry.Frames)}</code></td><td "
                        + $"class=\"num\">{entry.Frames.LongCount}</td></tr>\n"
                );
            }

            page.Add($"</table>\n");
        }

        page.Add(
            $"<h2>Sequences</h2>\n<table><tr><th>Name</th><th>Layer</th><th>Frames</th><th>Missing</th><th "
                + $"class=\"num\">Files</th><th class=\"num\">MiB</th><th>Size</th></tr>\n"
        );
        foreach (SequenceSummary q in report.Sequences)
        {
            page.Add(
                $"<tr><td><code>{q.Name}</code></td><td>{q.Layer}</td><td><code>{Breakable(q.Frames)}</code></td>"
                    + $"<td><code>{Breakable(q.Missing)}</code></td>"
            );
            page.Add(
                $"<td class=\"num\">{q.Files}</td><td class=\"num\">{q.Bytes / 1048576.0:N1}</td><td>{q.Width} × {q.Height}</td></tr>\n"
            );
        }

        return page.Add($"</table>\n</body></html>\n").ToString();
    }

    /// <summary>A page up to its heading.</summary>
    internal static HtmlDocument Begin(string title) =>
        new HtmlDocument().Add(
            $"<!doctype html>\n<html lang=\"en\"><head><meta "
                + $"charset=\"utf-8\"><title>{title}</title><style>\n{new Markup(Style)}</style></head><body>\n<h1>{title}</h1>\n"
        );

    /// <summary>A frame set that may break over lines.</summary>
    internal static string Breakable(FrameSet frames) => frames.ToString().Replace(",", ", ", StringComparison.Ordinal);

    private static void Findings(HtmlDocument page, string title, Finding[] findings)
    {
        if (findings.Length == 0)
        {
            page.Add(new Markup(title == "Findings" ? "<h2>Findings</h2>\n<p>None: everything is as planned.</p>\n" : ""));
            return;
        }

        page.Add(
            $"<h2>{title}</h2>\n<table><tr><th>Severity</th><th>What</th><th>Frames</th><th>Expected</th><th>Found</th><th>What to "
                + $"do</th></tr>\n"
        );
        foreach (Finding f in findings)
        {
            string severity = Words.Choice(f.Severity);
            page.Add(
                $"<tr><td class=\"{severity}\">{severity}</td><td><b>{RuleBook.TitleOf(f.Rule)}</b> <span "
                    + $"class=\"dim\">{f.Rule}</span><br>{f.Message}"
            );
            page.Add($"<br><code>{f.Output}</code></td><td><code>{Breakable(f.Frames)}</code></td><td>{f.Expected}</td><td>{f.Found}</td>");
            page.Add($"<td>{(f.Waived is { } w ? $"Accepted by {w.By}: {w.Reason}" : f.Remedy)}");
            if (f.Handed is { } handed)
            {
                page.Add($"<br><b>With {handed.To}</b> {handed.Note}");
            }

            page.Add($"</td></tr>\n");
        }

        page.Add($"</table>\n");
    }
}

using System.Globalization;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Checking.Reports;

/// <summary>The summary of a show as one self-contained page: no script, no file beside it, readable on paper.</summary>
public static class ShowReportPage
{
    /// <summary>Writes the page.</summary>
    public static string Write(ShowReport report)
    {
        ShowTotals t = report.Totals;
        HtmlDocument page = ReportPage.Begin($"{report.Name}, where the shots stand");
        page.Add(
            $"<p>{t.Checked} of {t.Shots} shots checked; {t.Here:N0} of {t.Planned:N0} planned files are here, {t.Missing:N0} are missing; "
        );
        page.Add(
            $"{t.Blockers} blockers, {t.Warnings} warnings, {t.Notes} notes, {t.Waived} waived; {t.Rerun:N0} frames to render "
                + $"again; {t.Bytes / 1048576.0:N1} MiB in {t.Files:N0} files.</p>\n"
        );
        page.Add(
            $"<h2>Shots</h2>\n<table><tr><th>Shot</th><th>Checked</th><th class=\"num\">Planned</th><th "
                + $"class=\"num\">Missing</th><th class=\"num\">Blockers</th>"
        );
        page.Add(
            $"<th class=\"num\">Warnings</th><th class=\"num\">Waived</th><th class=\"num\">To render again</th><th "
                + $"class=\"num\">MiB</th><th>Crate</th></tr>\n"
        );
        foreach (ShotLine s in report.Shots)
        {
            page.Add(
                $"<tr><td><b>{s.Shot}</b></td><td>{When(s)}</td><td class=\"num\">{s.Planned}</td><td "
                    + $"class=\"num\">{s.Missing}</td><td class=\"num\">{s.Blockers}</td>"
            );
            page.Add(
                $"<td class=\"num\">{s.Warnings}</td><td class=\"num\">{s.Waived}</td><td class=\"num\">{s.Rerun}</td><td "
                    + $"class=\"num\">{s.Bytes / 1048576.0:N1}</td><td>{s.Crate}</td></tr>\n"
            );
        }

        page.Add($"</table>\n<h2>What is wrong across the show</h2>\n");
        if (report.Rules.IsEmpty)
        {
            page.Add($"<p>Nothing that is not waived.</p>\n");
        }
        else
        {
            page.Add(
                $"<table><tr><th>Severity</th><th>What</th><th class=\"num\">Findings</th><th "
                    + $"class=\"num\">Frames</th><th>Shots</th></tr>\n"
            );
            foreach (RuleLine r in report.Rules)
            {
                string severity = Words.Choice(r.Severity);
                page.Add(
                    $"<tr><td class=\"{severity}\">{severity}</td><td><b>{RuleBook.TitleOf(r.Rule)}</b> <span "
                        + $"class=\"dim\">{r.Rule}</span></td>"
                );
                page.Add(
                    $"<td class=\"num\">{r.Findings}</td><td class=\"num\">{r.Frames}</td><td>{string.Join(", ", r.Shots)}</td></tr>\n"
                );
            }

            page.Add($"</table>\n");
        }

        if (!report.Hands.IsEmpty)
        {
            page.Add($"<h2>Assigned to</h2>\n<table><tr><th>With</th><th>Shot</th><th>What</th><th>Frames</th><th>Note</th></tr>\n");
            foreach ((string to, HandedFinding f) in report.Hands.SelectMany(h => h.Findings.Select(f => (h.To, f))))
            {
                page.Add(
                    $"<tr><td><b>{to}</b></td><td>{f.Shot}</td><td>{RuleBook.TitleOf(f.Rule)} "
                        + $"<code>{f.Output}{(f.Pass is null ? "" : " " + f.Pass)}</code></td>"
                );
                page.Add($"<td><code>{ReportPage.Breakable(f.Frames)}</code></td><td>{f.Note}</td></tr>\n");
            }

            page.Add($"</table>\n");
        }

        return page.Add($"</body></html>\n").ToString();
    }

    private static string When(ShotLine shot) =>
        shot.Checked is not { } at
            ? "not yet"
            : string.Create(
                CultureInfo.InvariantCulture,
                $"{at:yyyy-MM-dd HH:mm} UTC, {(shot.Depth == "pixels" ? "every pixel" : "headers")}"
                    + $"{(shot.Stale ? "; the plan changed since" : "")}"
            );
}

using System.Globalization;
using System.Text;

namespace DuneCrate.Core.Checks;

/// <summary>The summary of a show as one self-contained page: no script, no file beside it, readable on paper.</summary>
public static class ShowReportPage
{
    /// <summary>Writes the page.</summary>
    public static string Write(ShowReport report)
    {
        ShowTotals t = report.Totals;
        var page = new StringBuilder(ReportPage.Head($"{report.Name}, where the shots stand"));
        page.Append(CultureInfo.InvariantCulture, $"<p>{t.Checked} of {t.Shots} shots checked; {t.Here:N0} of {t.Planned:N0} planned files are here, {t.Missing:N0} are missing; {t.Blockers} blockers, {t.Warnings} warnings, {t.Notes} notes, {t.Waived} waived; {t.Rerun:N0} frames to render again; {t.Bytes / 1048576.0:N1} MiB in {t.Files:N0} files.</p>\n");
        page.Append("<h2>Shots</h2>\n<table><tr><th>Shot</th><th>Checked</th><th class=\"num\">Planned</th><th class=\"num\">Missing</th><th class=\"num\">Blockers</th><th class=\"num\">Warnings</th><th class=\"num\">Waived</th><th class=\"num\">To render again</th><th class=\"num\">MiB</th><th>Crate</th></tr>\n");
        foreach (ShotLine s in report.Shots)
        {
            page.Append(CultureInfo.InvariantCulture, $"<tr><td><b>{ReportPage.Text(s.Shot)}</b></td><td>{(s.Checked is { } at ? $"{at:yyyy-MM-dd HH:mm} UTC, {(s.Depth == "pixels" ? "every pixel" : "headers")}{(s.Stale ? "; the plan changed since" : "")}" : "not yet")}</td><td class=\"num\">{s.Planned}</td><td class=\"num\">{s.Missing}</td><td class=\"num\">{s.Blockers}</td><td class=\"num\">{s.Warnings}</td><td class=\"num\">{s.Waived}</td><td class=\"num\">{s.Rerun}</td><td class=\"num\">{s.Bytes / 1048576.0:N1}</td><td>{ReportPage.Text(s.Crate ?? "")}</td></tr>\n");
        }

        page.Append("</table>\n<h2>What is wrong across the show</h2>\n");
        if (report.Rules.IsEmpty)
        {
            page.Append("<p>Nothing that is not waived.</p>\n");
        }
        else
        {
            page.Append("<table><tr><th>Severity</th><th>What</th><th class=\"num\">Findings</th><th class=\"num\">Frames</th><th>Shots</th></tr>\n");
            foreach (RuleLine r in report.Rules)
            {
                string severity = r.Severity.ToString().ToLowerInvariant();
                page.Append(CultureInfo.InvariantCulture, $"<tr><td class=\"{severity}\">{severity}</td><td><b>{ReportPage.Text(RuleBook.Find(r.Rule)?.Title ?? r.Rule)}</b> <span class=\"dim\">{ReportPage.Text(r.Rule)}</span></td><td class=\"num\">{r.Findings}</td><td class=\"num\">{r.Frames}</td><td>{ReportPage.Text(string.Join(", ", r.Shots))}</td></tr>\n");
            }

            page.Append("</table>\n");
        }

        if (!report.Hands.IsEmpty)
        {
            page.Append("<h2>In whose hands</h2>\n<table><tr><th>With</th><th>Shot</th><th>What</th><th>Frames</th><th>Note</th></tr>\n");
            foreach ((string to, HandedFinding f) in report.Hands.SelectMany(h => h.Findings.Select(f => (h.To, f))))
            {
                page.Append(CultureInfo.InvariantCulture, $"<tr><td><b>{ReportPage.Text(to)}</b></td><td>{ReportPage.Text(f.Shot)}</td><td>{ReportPage.Text(RuleBook.Find(f.Rule)?.Title ?? f.Rule)} <code>{ReportPage.Text(f.Output)}{(f.Pass is null ? "" : " " + ReportPage.Text(f.Pass))}</code></td><td><code>{ReportPage.Text(f.Frames)}</code></td><td>{ReportPage.Text(f.Note)}</td></tr>\n");
            }

            page.Append("</table>\n");
        }

        return page.Append("</body></html>\n").ToString();
    }
}

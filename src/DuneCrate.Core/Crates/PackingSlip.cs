using System.Globalization;
using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Documents;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Pictures.Notes;
using DuneCrate.Core.Planning.Model;

namespace DuneCrate.Core.Crates;

/// <summary>The page that tells a compositor how to use each pass: one file, no links out, printable.</summary>
public static class PackingSlip
{
    /// <summary>Name of its file.</summary>
    public const string FileName = "slip.html";

    private const string Style = """
        body{font:14px/1.45 "Helvetica Neue",Arial,sans-serif;color:#26231d;background:#fbf7ef;
        margin:2rem auto;max-width:62rem;padding:0 1rem;font-variant-numeric:tabular-nums}
        h1{font-size:1.5rem;margin:0}h2{font-size:1.05rem;margin:1.6rem 0 .4rem}p{margin:.3rem 0;max-width:46rem}
        table{border-collapse:collapse;width:100%}
        th,td{text-align:left;vertical-align:top;padding:.35rem .6rem .35rem 0;border-top:1px solid #d9cdb7}
        th{color:#5f5748;font-weight:600}
        code{font-family:"DejaVu Sans Mono",Menlo,monospace;font-size:.88em}.lead{color:#5f5748}
        @media print{body{background:#fff;margin:0;max-width:none;font-size:11px}tr{break-inside:avoid}}
        """;

    /// <summary>The page.</summary>
    public static string Write(CrateManifest crate)
    {
        var page = new HtmlDocument();
        page.Add(
            $"<!doctype html>\n<html lang=\"en\"><head><meta "
                + $"charset=\"utf-8\"><title>{crate.Name}</title><style>{new Markup(Style)}</style></head><body>\n"
        );
        page.Add($"<h1>{crate.Show.Name} · {crate.Shot} · v{crate.Version:000}</h1>\n");
        string overscan = crate.Overscan > 0 ? $" and {crate.Overscan} pixels of overscan on every side" : "";
        page.Add(
            $"<p class=\"lead\">Frames <code>{crate.Frames}</code> at {crate.FrameRate.ToDisplay()}, {crate.Width} × "
                + $"{crate.Height}{overscan}, pixel aspect {crate.PixelAspectRatio:0.###}. "
        );
        page.Add($"Sealed {crate.Sealed:yyyy-MM-dd HH:mm} UTC{(crate.SealedBy is null ? "" : $" by {crate.SealedBy}")}.</p>\n");
        page.Add(
            $"<p>Colour is scene-linear: put the view transform last, and only for looking. Shown raw it looks too dark; that is "
                + $"the transform missing. "
        );
        page.Add($"Set the project to the frame rate above before reading anything.</p>\n");
        Table(
            page,
            "The stack, from the bottom",
            "In this order and with these operations the passes make the test composite.",
            crate.Passes.Where(p => p.Place is not null),
            "Place",
            p => p.Place!.Value.ToString(CultureInfo.InvariantCulture)
        );
        foreach (CrateRebuild rebuild in crate.Rebuild)
        {
            page.Add($"<h2>Beauty of {rebuild.Layer}, rebuilt</h2>\n<p><code>beauty = {string.Join(" + ", rebuild.Terms)}</code>. ");
            page.Add($"To grade one share of the light, replace the beauty in the stack by this sum.</p>\n");
        }

        Table(
            page,
            "Passes that are not stacked",
            "Light passes rebuild the beauty. Masks, data and ids drive operations and are never seen; read them without a colour "
                + "transform and without filtering.",
            crate.Passes.Where(p => p.Place is null),
            "Kind",
            p => Words.Choice(p.Kind)
        );
        if (!crate.Waived.IsEmpty)
        {
            page.Add($"<h2>Accepted as they are</h2>\n<table><tr><th>Rule</th><th>Where</th><th>What</th><th>Accepted by</th></tr>\n");
            foreach (Finding finding in crate.Waived)
            {
                page.Add($"<tr><td><code>{finding.Rule}</code></td><td>{finding.Layer} {finding.Pass} <code>{finding.Frames}</code></td>");
                page.Add($"<td>{finding.Message}</td><td>{finding.Waived?.By}: {finding.Waived?.Reason}</td></tr>\n");
            }

            page.Add($"</table>\n");
        }

        Notes(page, crate);
        page.Add(
            $"<h2>Proof</h2>\n<p>Every file is listed in <code>SHA256SUMS</code>; <code>sha256sum -c SHA256SUMS</code> in this "
                + $"folder checks them all.</p>\n</body></html>\n"
        );
        return page.ToString();
    }

    /// <summary>What was noted on pictures: what is open first.</summary>
    private static void Notes(HtmlDocument page, CrateManifest crate)
    {
        if (crate.Notes is not { IsDefaultOrEmpty: false } notes)
        {
            return;
        }

        page.Add($"<h2>Notes on pictures</h2>\n<table><tr><th>Where</th><th>Note</th><th>Answers</th><th>State</th></tr>\n");
        foreach (PictureNote note in notes.OrderBy(n => !n.IsOpen).ThenBy(n => n.Frame))
        {
            page.Add($"<tr><td>{note.Layer} {note.Pass} <code>{note.Frame}</code>, {note.Place}</td>");
            page.Add($"<td>{note.Words}<br>{note.By}, {note.At:yyyy-MM-dd}</td><td>");
            foreach (NoteAnswer answer in note.Answers)
            {
                page.Add($"{answer.Words} ({answer.By}, {answer.At:yyyy-MM-dd})<br>");
            }

            page.Add($"</td><td>{(note.SettledBy is { } by ? $"settled by {by}" : "open")}</td></tr>\n");
        }

        page.Add($"</table>\n");
    }

    private static void Table(
        HtmlDocument page,
        string title,
        string lead,
        IEnumerable<CratePass> passes,
        string firstHead,
        Func<CratePass, string> first
    )
    {
        page.Add(
            $"<h2>{title}</h2>\n<p>{lead}</p>\n<table><tr><th>{firstHead}</th><th>Pass</th><th>Layer</th><th>Operation</th><th>Files "
                + $"and channels</th><th>To know</th></tr>\n"
        );
        foreach (CratePass pass in passes)
        {
            string operation =
                pass.Operation == "none" ? "none" : string.Create(CultureInfo.InvariantCulture, $"{pass.Operation}, {pass.Opacity:0 %}");
            string alpha = pass.Alpha == AlphaMode.None ? "" : $"; alpha {Words.Choice(pass.Alpha)}";
            string channels = string.Join(", ", pass.Channels.Select(c => $"{c.Key} {c.Value.Name()}"));
            page.Add(
                $"<tr><td>{first(pass)}</td><td>{pass.TradeName}</td><td>{pass.Layer}</td><td>{operation}</td>"
                    + $"<td><code>{pass.Files}</code> "
                    + $"<code>{pass.Frames}</code>, {pass.Extent}"
            );
            page.Add($"<br>{channels}; {pass.ColourSpace}{alpha}</td><td>{pass.Remark}</td></tr>\n");
        }

        page.Add($"</table>\n");
    }
}

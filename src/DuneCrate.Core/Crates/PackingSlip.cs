using System.Globalization;
using System.Net;
using System.Text;
using DuneCrate.Core.Checks;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Crates;

/// <summary>The page that tells a compositor how to use each pass: one file, no links out, printable.</summary>
public static class PackingSlip
{
    private const string Style = """
        body{font:14px/1.45 "Helvetica Neue",Arial,sans-serif;color:#26231d;background:#fbf7ef;margin:2rem auto;max-width:62rem;padding:0 1rem;font-variant-numeric:tabular-nums}
        h1{font-size:1.5rem;margin:0}h2{font-size:1.05rem;margin:1.6rem 0 .4rem}p{margin:.3rem 0;max-width:46rem}
        table{border-collapse:collapse;width:100%}th,td{text-align:left;vertical-align:top;padding:.35rem .6rem .35rem 0;border-top:1px solid #d9cdb7}th{color:#5f5748;font-weight:600}
        code{font-family:"DejaVu Sans Mono",Menlo,monospace;font-size:.88em}.lead{color:#5f5748}
        @media print{body{background:#fff;margin:0;max-width:none;font-size:11px}tr{break-inside:avoid}}
        """;

    /// <summary>The page.</summary>
    public static string Write(CrateManifest crate)
    {
        var html = new StringBuilder();
        html.Append("<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>").Append(E(crate.Name)).Append("</title><style>").Append(Style).Append("</style></head><body>\n");
        html.Append(CultureInfo.InvariantCulture, $"<h1>{E(crate.Show.Name)} · {E(crate.Shot)} · v{crate.Version:000}</h1>\n");
        html.Append(CultureInfo.InvariantCulture, $"<p class=\"lead\">Frames <code>{crate.Frames}</code> at {crate.FrameRate.ToDisplay()}, {crate.Width} × {crate.Height}{(crate.Overscan > 0 ? $" and {crate.Overscan} pixels of overscan on every side" : "")}, pixel aspect {crate.PixelAspectRatio:0.###}. Sealed {crate.Sealed:yyyy-MM-dd HH:mm} UTC.</p>\n");
        html.Append("<p>Colour is scene-linear: put the view transform last, and only for looking. Shown raw it looks too dark; that is the transform missing. Set the project to the frame rate above before reading anything.</p>\n");
        Table(html, "The stack, from the bottom", "In this order and with these operations the passes make the test composite.", crate.Passes.Where(p => p.Place is not null), "Place", p => p.Place!.Value.ToString(CultureInfo.InvariantCulture));
        foreach (CrateRebuild rebuild in crate.Rebuild)
        {
            html.Append(CultureInfo.InvariantCulture, $"<h2>Beauty of {E(rebuild.Layer)}, rebuilt</h2>\n<p><code>beauty = {E(string.Join(" + ", rebuild.Terms))}</code>. To grade one share of the light, replace the beauty in the stack by this sum.</p>\n");
        }

        Table(html, "Passes that are not stacked", "Light passes rebuild the beauty. Masks, data and ids drive operations and are never seen; read them without a colour transform and without filtering.", crate.Passes.Where(p => p.Place is null), "Kind", p => p.Kind.ToString().ToLowerInvariant());
        if (!crate.Waived.IsEmpty)
        {
            html.Append("<h2>Accepted as they are</h2>\n<table><tr><th>Rule</th><th>Where</th><th>What</th><th>Accepted by</th></tr>\n");
            foreach (Finding finding in crate.Waived)
            {
                html.Append(CultureInfo.InvariantCulture, $"<tr><td><code>{E(finding.Rule)}</code></td><td>{E(finding.Layer ?? "")} {E(finding.Pass ?? "")} <code>{finding.Frames}</code></td><td>{E(finding.Message)}</td><td>{E(finding.Waived!.By)}: {E(finding.Waived.Reason)}</td></tr>\n");
            }

            html.Append("</table>\n");
        }

        return html.Append("<h2>Proof</h2>\n<p>Every file is listed in <code>SHA256SUMS</code>; <code>sha256sum -c SHA256SUMS</code> in this folder checks them all.</p>\n</body></html>\n").ToString();
    }

    private static void Table(StringBuilder html, string title, string lead, IEnumerable<CratePass> passes, string firstHead, Func<CratePass, string> first)
    {
        html.Append(CultureInfo.InvariantCulture, $"<h2>{E(title)}</h2>\n<p>{E(lead)}</p>\n<table><tr><th>{firstHead}</th><th>Pass</th><th>Layer</th><th>Operation</th><th>Files and channels</th><th>To know</th></tr>\n");
        foreach (CratePass pass in passes)
        {
            string operation = pass.Operation == "none" ? "none" : string.Create(CultureInfo.InvariantCulture, $"{pass.Operation}, {pass.Opacity:0 %}");
            string alpha = pass.Alpha == Planning.AlphaMode.None ? "" : $"; alpha {pass.Alpha.ToString().ToLowerInvariant()}";
            html.Append(CultureInfo.InvariantCulture, $"<tr><td>{E(first(pass))}</td><td>{E(pass.TradeName)}</td><td>{E(pass.Layer)}</td><td>{operation}</td><td><code>{E(pass.Files)}</code> <code>{pass.Frames}</code>, {pass.Extent}<br>{E(string.Join(", ", pass.Channels.Select(c => $"{c.Key} {c.Value.Name()}")))}; {pass.ColourSpace}{alpha}</td><td>{E(pass.Remark ?? "")}</td></tr>\n");
        }

        html.Append("</table>\n");
    }

    private static string E(string text) => WebUtility.HtmlEncode(text);
}

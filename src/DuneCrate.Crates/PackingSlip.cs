using System.Globalization;
using System.Text;
using DuneCrate.Checking.Findings;
using DuneCrate.Crates.Describing;
using DuneCrate.Crates.Exports;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Pictures.Notes;

namespace DuneCrate.Crates;

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
        figure{margin:1rem 0}figcaption{color:#5f5748}img.large{width:100%;max-width:720px;background:#14161b}
        img.small{width:96px;background:#14161b;display:block}td:last-child{min-width:13rem}
        @media print{body{background:#fff;margin:0;max-width:none;font-size:11px}tr{break-inside:avoid}}
        """;

    /// <summary>The page without pictures.</summary>
    public static string Write(CrateManifest crate) => Write(crate, SlipPictures.None);

    /// <summary>The page.</summary>
    internal static string Write(CrateManifest crate, SlipPictures pictures)
    {
        var page = new HtmlDocument();
        page.Add(
            $"<!doctype html>\n<html lang=\"en\"><head><meta "
                + $"charset=\"utf-8\"><title>{crate.Name}</title><style>{new Markup(Style)}</style></head><body>\n"
        );
        page.Add($"<h1>{crate.Show.Name} · {crate.Shot} · v{crate.Version:000}</h1>\n");
        if (crate.Receiver is { } receiver)
        {
            page.Add($"<p class=\"lead\">For {receiver}.</p>\n");
        }

        string overscan = crate.Overscan > 0 ? $" and {crate.Overscan} pixels of overscan on every side" : "";
        page.Add(
            $"<p class=\"lead\">Frames <code>{crate.Frames}</code> at {crate.FrameRate.ToDisplay()}, {crate.Width} × "
                + $"{crate.Height}{overscan}, pixel aspect {crate.PixelAspectRatio:0.###}. "
        );
        page.Add($"Sealed {crate.Sealed:yyyy-MM-dd HH:mm} UTC{(crate.SealedBy is null ? "" : $" by {crate.SealedBy}")}.</p>\n");
        Story(page, crate, pictures);
        Table(
            page,
            pictures,
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
            pictures,
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

        Ids(page, crate);
        Helpers(page, crate);
        Notes(page, crate);
        Sites(page, crate);
        page.Add(
            $"<h2>Proof</h2>\n<p>Every file is listed in <code>SHA256SUMS</code>; <code>sha256sum -c SHA256SUMS</code> in this "
                + $"folder checks them all.</p>\n</body></html>\n"
        );
        return page.ToString();
    }

    /// <summary>The composite, what is new, and what one must know before reading a file.</summary>
    private static void Story(HtmlDocument page, CrateManifest crate, SlipPictures pictures)
    {
        if (pictures.Composite is { } composite)
        {
            page.Add($"<figure><img class=\"large\" alt=\"test composite\" src=\"{Address(composite)}\">");
            page.Add($"<figcaption>The test composite at frame {pictures.Frame + crate.FrameShift}, as sRGB shows it.</figcaption>");
            page.Add($"</figure>\n");
        }

        if (crate.Onto is { } onto)
        {
            string[] changed = [.. onto.Changed.Select(c => $"{c.Layer} {c.Pass} {(c.IsNew ? "(new)" : c.Frames.ToString())}")];
            page.Add($"<p><b>New since {onto.Name}:</b> {(changed.Length == 0 ? "nothing" : string.Join(", ", changed))}.</p>\n");
        }

        if (crate.FrameShift != 0)
        {
            int first = crate.Frames.First;
            page.Add($"<p>Frames were numbered anew: {first - crate.FrameShift} of the render is {first} here. ");
            page.Add($"What is said below of accepted findings speaks of the render's numbers.</p>\n");
        }

        page.Add($"<p>{Words.Count(crate.Frames.LongCount, "frame")}, {crate.FrameRate.Timecode(crate.Frames.LongCount)} long. ");
        page.Add($"Colour is {crate.Show.ColourSpace ?? "scene-linear"}: put the view transform last, and only for looking. ");
        page.Add($"Shown raw it looks too dark; that is the transform missing. Set the project to the frame rate above first.</p>\n");
        if (crate.Passes.Any(p => p.Part is not null))
        {
            page.Add($"<p>Files hold a part for each pass: choose the part by its name, then its channels.</p>\n");
        }
        else if (crate.Passes.GroupBy(p => p.Files).Any(g => g.Skip(1).Any()))
        {
            page.Add($"<p>Several passes lie in one file: choose the channels of a pass as they are named below.</p>\n");
        }
    }

    /// <summary>What was measured of a pass, as sentences.</summary>
    private static string Told(CratePass pass)
    {
        if (pass.Measured is not { } measured)
        {
            return "";
        }

        string unit = pass.Unit is { } word ? $" {word}" : "";
        var told = new StringBuilder();
        if (measured is { Near: { } near, Far: { } far })
        {
            told.Append(CultureInfo.InvariantCulture, $" Near {near:0.###}, far {far:0.###}{unit}");
            told.Append(
                measured.Background is { } background
                    ? string.Create(CultureInfo.InvariantCulture, $"; {background:0.###} where nothing is.")
                    : "."
            );
        }

        if (measured.Space is { } space)
        {
            told.Append(CultureInfo.InvariantCulture, $" Going by its pixels it lies in {space} space.");
        }

        if (measured.Fastest is { } fastest)
        {
            told.Append(CultureInfo.InvariantCulture, $" At most {fastest:0.##}{unit} along an axis.");
        }

        if (measured.Heading is { } heading)
        {
            string where = heading.IsForward ? "will be in the next frame" : "were in the frame before";
            told.Append(CultureInfo.InvariantCulture, $" Going by its pixels it points to where things {where}");
            told.Append(heading.Vertical is { } vertical ? $", positive Y {vertical}." : ".");
        }

        return told.ToString();
    }

    /// <summary>What ids stand for, with the colours that the pictures show them in.</summary>
    private static void Ids(HtmlDocument page, CrateManifest crate)
    {
        foreach (CratePass pass in crate.Passes.Where(p => p.Measured?.Ids is { Length: > 0 }))
        {
            page.Add($"<h2>{pass.TradeName} of {pass.Layer}</h2>\n<table><tr><th></th><th>Value</th><th>Name</th><th>Pixels</th></tr>\n");
            foreach (PassIdentity id in pass.Measured!.Ids!)
            {
                page.Add($"<tr><td><svg width=\"16\" height=\"16\"><rect width=\"16\" height=\"16\" fill=\"{id.Colour}\"/></svg></td>");
                page.Add($"<td><code>{id.Value}</code></td><td>{id.Name ?? "without a name"}</td><td>{id.Pixels:N0}</td></tr>\n");
            }

            page.Add($"</table>\n");
            if (pass.Measured.FurtherIds > 0)
            {
                page.Add($"<p>{Words.Count(pass.Measured.FurtherIds, "further id")}.</p>\n");
            }
        }
    }

    /// <summary>What of the scene goes along.</summary>
    private static void Helpers(HtmlDocument page, CrateManifest crate)
    {
        if (crate.Helpers is not { IsDefaultOrEmpty: false } helpers)
        {
            return;
        }

        page.Add(
            $"<h2>Scene helpers</h2>\n<p><code>{crate.Documents?.Helpers}</code> (glTF 2.0, its time begins with the first frame) and "
        );
        page.Add($"<code>{crate.Documents?.HelperTable}</code> (a line for each and frame). Metres, right-handed, y up.</p>\n<table>");
        foreach (CrateHelper helper in helpers)
        {
            page.Add(
                $"<tr><td>{helper.Name}</td><td>{Words.Choice(helper.Kind)}</td><td>{(helper.Moves ? "moves" : "stands")}</td></tr>\n"
            );
        }

        page.Add($"</table>\n");
    }

    private static string Address(byte[] png) => $"data:image/png;base64,{Convert.ToBase64String(png)}";

    /// <summary>Where the crate stands at each place that gets it.</summary>
    private static void Sites(HtmlDocument page, CrateManifest crate)
    {
        if (crate.Recipe?.Sites is not { IsDefaultOrEmpty: false } sites)
        {
            return;
        }

        page.Add($"<h2>Where it stands</h2>\n<table>");
        foreach (RecipeSite site in sites)
        {
            page.Add($"<tr><td>{site.Site}</td><td><code>{PassTable.At(site, crate.Name, "")}</code></td></tr>\n");
        }

        page.Add($"</table>\n");
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
        SlipPictures pictures,
        string title,
        string lead,
        IEnumerable<CratePass> passes,
        string firstHead,
        Func<CratePass, string> first
    )
    {
        page.Add(
            $"<h2>{title}</h2>\n<p>{lead}</p>\n<table><tr><th>{firstHead}</th><th></th><th>Pass</th><th>Layer</th>"
                + $"<th>Operation</th><th>Files and channels</th><th>To know</th></tr>\n"
        );
        foreach (CratePass pass in passes)
        {
            string operation =
                pass.Operation == "none" ? "none" : string.Create(CultureInfo.InvariantCulture, $"{pass.Operation}, {pass.Opacity:0 %}");
            string alpha = pass.Alpha == AlphaMode.None ? "" : $"; alpha {Words.Choice(pass.Alpha)}";
            string channels = string.Join(", ", pass.Channels.Select(c => $"{c.Key} {c.Value.Name()}"));
            page.Add($"<tr><td>{first(pass)}</td><td>");
            if (pictures.Passes.TryGetValue((pass.Layer, pass.Pass), out byte[]? png))
            {
                page.Add($"<img class=\"small\" alt=\"{pass.Layer} {pass.TradeName}\" src=\"{Address(png)}\">");
            }

            page.Add(
                $"</td><td>{pass.TradeName}</td><td>{pass.Layer}</td><td>{operation}</td>"
                    + $"<td><code>{pass.Files}</code> "
                    + $"<code>{pass.Frames}</code>, {pass.Extent}"
            );
            string part = pass.Part is null ? "" : $"part {pass.Part}; ";
            page.Add($"<br>{part}{channels}; {pass.ColourSpace}{alpha}");
            if (pass.Was is { } was)
            {
                page.Add($"<br><span class=\"lead\">was <code>{was}</code>{string.Concat((pass.Done ?? []).Select(d => $"; {d}"))}</span>");
            }

            page.Add($"</td><td>{pass.Remark}{Told(pass)}</td></tr>\n");
        }

        page.Add($"</table>\n");
    }
}

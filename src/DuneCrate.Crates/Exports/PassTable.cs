using System.Globalization;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Crates.Exports;

/// <summary>The passes of a crate as a table, a row each, with a column for every place where crates will stand.</summary>
internal static class PassTable
{
    private static readonly string[] Heads =
    [
        "layer",
        "pass",
        "name",
        "files",
        "part",
        "frames",
        "extent",
        "channels",
        "types",
        "alpha",
        "colour space",
        "kind",
        "operation",
        "opacity",
        "place",
        "remark",
    ];

    /// <summary>The table's text. Source: RFC 4180.</summary>
    public static string Write(CrateManifest manifest)
    {
        RecipeSite[] sites = [.. manifest.Recipe?.Sites ?? []];
        return CsvText.Write(
            [.. Heads, .. sites.Select(s => $"files at {s.Site}")],
            manifest.Passes.Select(p => Row(p).Concat(sites.Select(s => (string?)At(s, manifest.Name, p.Files))))
        );
    }

    /// <summary>A path of a crate where a site has it.</summary>
    public static string At(RecipeSite site, string crate, string path) => $"{site.Prefix.TrimEnd('/')}/{crate}/{path}";

    private static IEnumerable<string?> Row(CratePass pass) =>
        [
            pass.Layer,
            pass.Pass,
            pass.TradeName,
            pass.Files,
            pass.Part,
            pass.Frames.ToString(),
            pass.Extent,
            string.Join(' ', pass.Channels.Keys),
            string.Join(' ', pass.Channels.Values.Select(t => t.Name()).Distinct()),
            Words.Choice(pass.Alpha),
            pass.ColourSpace,
            Words.Choice(pass.Kind),
            pass.Operation,
            pass.Opacity.ToString("0.###", CultureInfo.InvariantCulture),
            pass.Place?.ToString(CultureInfo.InvariantCulture),
            pass.Remark,
        ];
}

using System.Collections.Immutable;

namespace DuneCrate.Testing;

/// <summary>
/// One picture in every compression, sample type and layout that Debian's tools write: 131 × 77 pixels with a corner at −7, 5;
/// a gradient, noise over a part of it and a flat rectangle, in the channels R G B Z id. Made once, when the tests run.
/// </summary>
public sealed class ToolPictures : IDisposable
{
    private readonly TempFolder _folder = new();

    public static readonly string[] Compressions = ["none", "rle", "zips", "zip", "piz", "pxr24", "b44", "b44a", "dwaa", "dwab"];

    public static readonly string[] Layouts = ["lines", "tiles", "mipmap", "ripmap", "parts"];

    private static readonly ImmutableDictionary<string, string[]> TypeArguments = new Dictionary<string, string[]>
    {
        ["half"] = ["-d", "half"],
        ["float"] = ["-d", "float"],
        ["uint"] = ["-d", "uint32"],
        ["mixed"] = ["-d", "half", "-d", "Z=float"],
    }.ToImmutableDictionary();

    public static readonly string[] Types = [.. TypeArguments.Keys.Order()];

    public ToolPictures()
    {
        foreach ((string type, string[] arguments) in TypeArguments)
        {
            string[] picture =
            [
                "--pattern",
                "fill:topleft=0,0.1,0.2,1,0.01:topright=4,2,1,1,0.02:bottomleft=0.5,0.5,0.5,0.2,0.9:bottomright=-1,9,30,0,0.5",
                "131x77",
                "5",
                "--create",
                "131x40",
                "5",
                "--noise:type=gaussian:mean=0:stddev=0.2:seed=4",
                "--add",
                "--fill:color=0.25,0.5,1,1,0",
                "40x30+60+40",
                "--chnames",
                "R,G,B,Z,id",
                "--origin",
                "-7+5",
                .. arguments,
            ];
            Tool.Oiio([
                .. picture,
                .. Compressions.SelectMany(c => new[] { "--compression", c, "-o", _folder[$"{type}.{c}.lines.exr"] }),
                "--tile",
                "48",
                "32",
                "--compression",
                "zips",
                "-o",
                _folder[$"{type}.zips.tiles.exr"],
            ]);
            Tool.Oiio([
                .. picture,
                "--dup",
                "--flip",
                "--siappend",
                .. Compressions.SelectMany(c => new[] { "--compression", c, "-o", _folder[$"{type}.{c}.parts.exr"] }),
            ]);

            // exrmaketiled does not know zips, so that the multi-resolution layouts lack it.
            foreach (string compression in Compressions.Where(c => c != "zips"))
            {
                foreach ((string layout, string option) in new[] { ("tiles", "-o"), ("mipmap", "-m"), ("ripmap", "-r") })
                {
                    Tool.Run(
                        "exrmaketiled",
                        option,
                        layout == "ripmap" ? "-u" : "-d",
                        "-t",
                        "48",
                        "32",
                        "-z",
                        compression,
                        _folder[$"{type}.{compression}.lines.exr"],
                        _folder[$"{type}.{compression}.{layout}.exr"]
                    );
                }
            }
        }

        Stats = Tool.StatsOfAll([
            .. Directory.EnumerateFiles(_folder.Path).Where(f => !Path.GetFileName(f).StartsWith("uint", StringComparison.Ordinal)),
        ]);
    }

    /// <summary>
    /// What oiiotool says of every file, by path; whole numbers left out, because it shows them in two decimals of their range.
    /// </summary>
    public IReadOnlyDictionary<string, Dictionary<string, ToolStats>> Stats { get; }

    /// <summary>Every compression with every layout that it is written in.</summary>
    public static IEnumerable<(string Compression, string Layout)> EveryWay() =>
        from compression in Compressions
        from layout in Layouts
        where compression != "zips" || layout is not ("mipmap" or "ripmap")
        select (compression, layout);

    /// <summary>The path of one of them.</summary>
    public string this[string type, string compression, string layout] => _folder[$"{type}.{compression}.{layout}.exr"];

    /// <summary>
    /// The same samples uncompressed, part by part, as the reference library decodes them: nothing is left to be decoded.
    /// </summary>
    public static string[] Plain(string path, int parts)
    {
        string stem = path[..^".exr".Length];
        string[] single = [path];
        if (parts > 1)
        {
            Tool.Run("exrmultipart", "-separate", "-i", path, "-o", stem);
            single = [.. Enumerable.Range(1, parts).Select(p => $"{stem}.{p}.exr")];
        }

        return
        [
            .. single.Select(
                (from, p) =>
                {
                    Tool.Run("exrmaketiled", "-z", "none", "-t", "256", "256", from, $"{stem}.plain{p}.exr");
                    return $"{stem}.plain{p}.exr";
                }
            ),
        ];
    }

    public void Dispose() => _folder.Dispose();
}

using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Tests.Outside;

/// <summary>
/// A shot as another house would deliver it: layer haze, a file per pass with plain channel names, OpenEXR, PNG and TIFF, all written by
/// Debian's oiiotool. Frames 1001 to 1012, 96 × 54; a grained picture behind an edge that moves.
/// </summary>
public sealed class OutsideShot : IDisposable
{
    public const string Range = "1001-1012";

    private static readonly WrittenOnce Rendered = new(Render);

    private readonly TempFolder _folder = Rendered.Copy();

    public static Plan Plan { get; } =
        PlanDocument
            .Read(
                """
                { "schema": "dune-crate.plan/1", "show": { "code": "KELP", "name": "The Kelp Post" },
                  "shot": { "code": "KP040", "frames": "1001-1012", "frameRate": "24/1", "width": 96, "height": 54, "camera": "cam_main" },
                  "layers": [ { "name": "haze", "alpha": "premultiplied", "outputs": [
                    { "template": "haze/haze_{pass}.####.exr", "compression": "zip", "passes": [
                      { "pass": "beauty", "channels": { "R": "half", "G": "half", "B": "half", "A": "half" } },
                      { "pass": "z", "channels": { "depth.Z": "float" } },
                      { "pass": "normal", "channels": { "normal.X": "half", "normal.Y": "half", "normal.Z": "half" } } ] },
                    { "template": "haze/haze_{pass}.%04d.png", "passes": [
                      { "pass": "ao", "channels": { "ao.R": "uint8", "ao.G": "uint8", "ao.B": "uint8" } } ] },
                    { "template": "haze/haze_{pass}.{frame}.tif", "compression": "zip", "passes": [
                      { "pass": "matte.hull", "channels": { "matte_hull.A": "uint8" } } ] } ] } ] }
                """
            )
            .Plan!;

    public string Folder => _folder.Path;

    public string this[string name] => _folder[name];

    /// <summary>One file.</summary>
    public string File(string pass, int frame) =>
        _folder[$"haze/haze_{pass}.{frame}.{(pass == "ao" ? "png" : pass == "matte_hull" ? "tif" : "exr")}"];

    /// <summary>Rewrites a file by commands of oiiotool; its time stays.</summary>
    public void Rewrite(string pass, int frame, params string[] change)
    {
        string file = File(pass, frame);
        DateTime written = System.IO.File.GetLastWriteTimeUtc(file);
        Tool.Oiio([file, .. change, "-o", file]);
        System.IO.File.SetLastWriteTimeUtc(file, written);
    }

    /// <summary>Rewrites several frames by one command; their times stay.</summary>
    public void RewriteEach(string pass, string frames, params string[] change)
    {
        (string File, DateTime Written)[] before =
        [
            .. FrameSet.Parse(frames).Select(f => File(pass, f)).Select(f => (f, System.IO.File.GetLastWriteTimeUtc(f))),
        ];
        string name = _folder[$"haze/{NameOf(pass, Path.GetExtension(before[0].File)[1..])}"];
        Tool.Oiio(["--frames", frames, name, .. change, "-o", name]);
        foreach ((string file, DateTime written) in before)
        {
            System.IO.File.SetLastWriteTimeUtc(file, written);
        }
    }

    /// <summary>Lays a patch over a file at a place.</summary>
    public void Paste(string pass, int frame, string place, params string[] patch)
    {
        string file = File(pass, frame);
        DateTime written = System.IO.File.GetLastWriteTimeUtc(file);
        Tool.Oiio([.. patch, file, "--paste", place, "-d", "half", "-o", file]);
        System.IO.File.SetLastWriteTimeUtc(file, written);
    }

    public CheckReport Check(bool withPlan = true, FactsDepth depth = FactsDepth.Pixels) =>
        Disk.Check(Folder, withPlan ? Plan : null, depth, new NoFactsCache()).Report;

    /// <summary>Findings from a weight on, a line each.</summary>
    public static string[] Lines(CheckReport report, Severity least = Severity.Warning) =>
        [.. report.Findings.Where(f => f.Severity <= least).Select(Line)];

    public static string Line(Finding finding) => $"{finding.Rule} {finding.Output} {finding.Pass} {finding.Frames}: {finding.Message}";

    public void Dispose() => _folder.Dispose();

    private static void Render(TempFolder folder)
    {
        string Name(string pass, string extension) => folder[$"haze/{NameOf(pass, extension)}"];
        Directory.CreateDirectory(folder["haze"]);
        // The commands share labels; renaming the channels of one comes last.
        string[] masked = ["a", "--ch", "A,A,A", "--mul"],
            zip = ["--compression", "zip", "-o"];
        string[] beauty = ["c", .. masked, "a", "--chappend", "--chnames", "R,G,B,A", .. Rate, "-d", "half", .. zip, Name("beauty", "exr")],
            ao = ["c", .. masked, "--mulc", "-0.5", "--addc", "1", "--clamp:min=0:max=1", "--chnames", "R,G,B", "-d", "uint8"],
            normal = ["--pattern", "constant:color=0.6,0,0.8", "96x54", "3", .. masked, "--chnames", "R,G,B", .. Rate, "-d", "half"],
            depth = ["a", "--mulc", "-20", "--addc", "30", .. Distances, "--add", "--chnames", "Y", .. Rate, "-d", "float"],
            matte = ["a", "--chnames", "Y", "-d", "uint8", .. zip, Name("matte_hull", "tif")];
        Tool.Oiio([
            "--frames",
            Range,
            .. Matte,
            "--label",
            "a",
            .. Grain(0.4, 0.03),
            "--label",
            "c",
            .. beauty,
            .. ao,
            "-o",
            Name("ao", "png"),
            .. normal,
            .. zip,
            Name("normal", "exr"),
            .. depth,
            .. zip,
            Name("z", "exr"),
            .. matte,
        ]);
    }

    private static string[] Matte =>
        ["--create", "96x54", "1", "--box:color=1:fill=1", "{FRAME_NUMBER-990},8,{FRAME_NUMBER-940},40", "--chnames", "A"];

    private static string[] Rate => ["--attrib", "FramesPerSecond", "24/1", "--attrib", "sceneFile", "haze_v001.scene"];

    private static string[] Distances => ["--create", "96x54", "1", "--noise:type=uniform:min=0:max=0.01:seed={FRAME_NUMBER}"];

    private static string[] Grain(double mean, double deviation) =>
        [
            "--create",
            "96x54",
            "3",
            FormattableString.Invariant($"--noise:type=gaussian:mean={mean}:stddev={deviation}:seed={{FRAME_NUMBER}}"),
        ];

    private static string NameOf(string pass, string extension) => $"haze_{pass}.%04d.{extension}";
}

using System.Globalization;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates.Deltas;
using DuneCrate.Crates.Recipes;

namespace DuneCrate.Crates.Tests.Converting;

/// <summary>
/// Three frames of a layer that oiiotool wrote: a tiled multi-channel file of floats with overscan, a file of data and a still, with
/// attributes that nobody knows.
/// </summary>
public sealed class DriftShot : IDisposable
{
    private static readonly WrittenOnce Files = new(Render);

    private readonly TempFolder _folder = Files.Copy();
    private int _crates;

    public DriftShot()
    {
        Checked = Disk.Check(Folder, Plan, FactsDepth.Pixels, new NoFactsCache());
    }

    public static Plan Plan { get; } =
        PlanDocument
            .Read(
                """
                { "schema": "dune-crate.plan/1", "show": { "code": "KELP", "name": "The Kelp Post", "colourSpace": "ACEScg" },
                  "shot": { "code": "KP050", "frames": "46-48", "frameRate": "24000/1001", "width": 64, "height": 40, "overscan": 4,
                            "camera": "cam_main" },
                  "layers": [ { "name": "drift", "alpha": "premultiplied", "outputs": [
                    { "template": "{layer}/{shot}_{layer}.{frame}.exr", "passes": [
                      { "pass": "beauty", "channels": { "R": "float", "G": "float", "B": "float", "A": "float" } },
                      { "pass": "direct_diffuse",
                        "channels": { "direct_diffuse.R": "float", "direct_diffuse.G": "float", "direct_diffuse.B": "float" } },
                      { "pass": "specular", "channels": { "specular.R": "float", "specular.G": "float", "specular.B": "float" } } ] },
                    { "template": "{layer}/{shot}_{layer}_data.{frame}.exr", "passes": [
                      { "pass": "depth", "channels": { "Z": "float" } },
                      { "pass": "motion", "channels": { "motion.X": "float", "motion.Y": "float" } } ] },
                    { "template": "{layer}/{shot}_{layer}_clay.png", "frames": "46", "passes": [
                      { "pass": "clay", "channels": { "clay.R": "uint8", "clay.G": "uint8", "clay.B": "uint8" } } ] } ] } ] }
                """
            )
            .Plan!;

    public string Folder => _folder["r"];

    public (IntakeResult Intake, CheckReport Report) Checked { get; private set; }

    public string this[string name] => _folder[name];

    /// <summary>A rendered file.</summary>
    public string Rendered(int frame, string what = "") => Path.Combine(Folder, $"drift/KP050_drift{what}.{frame:0000}.exr");

    public void CheckAgain() => Checked = Disk.Check(Folder, Plan, FactsDepth.Pixels, new NoFactsCache());

    public CrateContents Contents(string recipe) => Disk.Contents(Plan, Checked.Intake, CrateLayouts.ByLayer, CrateRecipe.Read(recipe));

    /// <summary>Seals what a recipe asks for; findings stand, as nothing here is about them.</summary>
    public string Seal(string recipe, string? into = null, OntoBase? onto = null) =>
        CrateBuilder
            .Seal(
                Contents(recipe),
                Checked.Report with
                {
                    Findings = [],
                },
                Disk.Folder(into ?? _folder[$"c{_crates++}"]),
                Guid.NewGuid(),
                null,
                default,
                null,
                null,
                onto
            )
            .Folder.FullPath;

    public void Dispose() => _folder.Dispose();

    private static void Render(TempFolder folder)
    {
        Directory.CreateDirectory(folder["r/drift"]);
        Tool.Oiio([
            "--frames",
            "46-48",
            .. Noise(4, 0.35),
            "--chnames",
            "R,G,B,A",
            // Alpha between 0 and 1, and a border without anything; what is dark becomes 0.
            "--subc",
            "0.3,0.3,0.3,0.2",
            "--clamp:min=0,0,0,0:max=9,9,9,1",
            .. Noise(3, 0.2),
            "--chnames",
            "direct_diffuse.R,direct_diffuse.G,direct_diffuse.B",
            "--chappend",
            .. Noise(3, 0.1),
            "--chnames",
            "specular.R,specular.G,specular.B",
            "--chappend",
            .. Framed,
            "--attrib",
            "tideTable",
            "springs",
            "-d",
            "float",
            "--tile",
            "32",
            "16",
            "--compression",
            "piz",
            "-o",
            folder["r/drift/KP050_drift.#.exr"],
        ]);
        Tool.Oiio([
            "--frames",
            "46-48",
            .. Noise(1, 4),
            "--chnames",
            "Z",
            .. Noise(2, 1),
            "--chnames",
            "motion.X,motion.Y",
            "--chappend",
            .. Framed,
            "-d",
            "float",
            "--compression",
            "zips",
            "-o",
            folder["r/drift/KP050_drift_data.#.exr"],
        ]);
        Tool.Oiio([.. Noise(3, 0.5), "--chnames", "R,G,B", "-d", "uint8", "-o", folder["r/drift/KP050_drift_clay.png"]]);
    }

    private static string[] Framed => ["--origin", "-4-4", "--fullsize", "64x40+0+0"];

    private static string[] Noise(int channels, double mean) =>
        [
            "--create",
            "72x48",
            channels.ToString(CultureInfo.InvariantCulture),
            string.Create(CultureInfo.InvariantCulture, $"--noise:type=uniform:min=0:max={2 * mean}:seed={{FRAME_NUMBER}}"),
        ];
}

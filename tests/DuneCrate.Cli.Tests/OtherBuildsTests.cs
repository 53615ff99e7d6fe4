using System.Diagnostics;
using System.Text.RegularExpressions;

namespace DuneCrate.Cli.Tests;

/// <summary>
/// The same verbs as they run on other machines: compiled to machine code, and on processors without wide vectors (arm64 has vectors of 16
/// bytes; a switch of the runtime makes this one do as if). Every document is the ordinary command line's, byte for byte.
/// </summary>
public sealed partial class OtherBuildsTests : IDisposable
{
    /// <summary>
    /// A plan with a value of every sort that plans have; its beauty is no sum of the one light, and its frame 1010 is lacking.
    /// </summary>
    private const string PlanText = """
        { "schema": "dune-crate.plan/1", "later": { "version": 2, "notes": [null, 1.5, "kept"] },
          "show": { "code": "KELP", "padding": 4, "machines": 3, "aliases": { "glow": "emission" },
            "passes": [ { "key": "foam", "name": "Foam", "kind": "light", "channels": ["R"], "type": "half", "filtered": true,
              "operation": "plus", "remark": "" } ],
            "rules": { "rebuild.residual": { "severity": "warning", "thresholds": { "pixels": 0.02 } } } },
          "shot": { "code": "KP010", "frames": "1001-1010", "frameRate": "24000/1001", "width": 101, "height": 45,
            "overscan": 2, "testFrame": { "frame": 1002, "scale": 0.5 } },
          "scene": { "items": [ { "name": "lamps", "kind": "light" },
            { "name": "weed", "kind": "object", "traits": ["glossy", "scattering"] } ] },
          "layers": [ { "name": "sub", "alpha": "straight", "rebuild": ["diffuse", ["diffuse", "foam"]],
            "roles": { "weed": "shown" }, "settings": { "samples": "64" },
            "changes": [ { "what": "light off", "value": "", "items": ["lamps"], "why": "night" } ],
            "outputs": [ { "template": "{shot}_{layer}.{frame}.exr", "compression": "zip", "frames": "1001-1009", "passes": [
              { "pass": "beauty", "channels": { "R": "half", "G": "half", "B": "half", "A": "half" }, "threshold": 0.4 },
              { "pass": "diffuse", "channels": { "diffuse.R": "half", "diffuse.G": "half", "diffuse.B": "half" } },
              { "pass": "foam", "channels": { "foam.R": "half" }, "off": true },
              { "pass": "depth", "channels": { "depth.Z": "float" }, "filtered": false, "near": 0.1, "far": 90 } ] } ] } ] }
        """;

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-builds-").FullName;

    public OtherBuildsTests()
    {
        // Every codec, and widths that are no multiple of any vector; by oiiotool, so that nothing here wrote what is read.
        string[] pattern = ["--pattern", "noise:type=gaussian:mean=0.3:stddev=0.4:seed=3", "101x45", "4", "--chnames", "R,G,B,A"];
        string[] light =
        [
            "--pattern",
            "noise:type=uniform:min=-0.1:max=2:seed=5",
            "101x45",
            "3",
            "--chnames",
            "diffuse.R,diffuse.G,diffuse.B",
        ];
        string[] depth = ["--pattern", "checker:width=8:height=8", "101x45", "1", "--chnames", "depth.Z", "--chappend"];
        string[] packed = ["none", "rle", "zips", "zip", "piz", "pxr24", "b44a", "dwaa"];
        Tool.Oiio([
            .. pattern,
            .. light,
            "--chappend",
            .. depth,
            .. packed.SelectMany(c => new[] { "-d", "half", "-d", "depth.Z=float", "--compression", c, "-o", At($"sub.{c}.exr") }),
            "--compression",
            "zip",
            "--tile",
            "64",
            "32",
            "-o",
            At("tiled.exr"),
            "--ch",
            "R,G,B",
            "-d",
            "uint16",
            "-o",
            At("flat.png"),
        ]);
        for (int i = 0; i < packed.Length; i++)
        {
            File.Copy(At($"sub.{packed[i]}.exr"), At($"KP010_sub.{1001 + i}.exr"));
        }

        File.WriteAllText(At("plan.json"), PlanText);
        File.WriteAllText(At("wrong.json"), PlanText.Replace("\"Z\"", "null", StringComparison.Ordinal));
        byte[] cut = File.ReadAllBytes(At("sub.zip.exr"));
        File.WriteAllBytes(At("cut.exr"), cut[..(cut.Length / 2)]);
    }

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void The_native_command_line_says_what_the_ordinary_one_says()
    {
        string native = Repository.File("build/native-bin/dune-native");
        if (!File.Exists(native))
        {
            // NU1…: the compiler's package is not to be had from the registry of this machine.
            string log = Repository.File("build/native.log");
            Assert.True(
                !HasLinker || (File.Exists(log) && File.ReadAllText(log).Contains("error NU1", StringComparison.Ordinal)),
                "gcc is here, and ./dune test did not build the native command line; see build/native.log"
            );
            return;
        }

        foreach (
            string[] verb in (string[][])
                [
                    ["facts", _folder, "--json"],
                    ["facts", _folder, "--depth", "pixels", "--json"],
                    ["facts", At("tiled.exr"), At("flat.png"), "--depth", "pixels"],
                    ["check", _folder, "--depth", "pixels", "--json", "-"],
                    ["check", _folder],
                    ["check", _folder, "--depth", "pixels", "--plan", At("plan.json"), "--json", "-"],
                    ["check", _folder, "--depth", "pixels", "--plan", At("plan.json")],
                    ["check", _folder, "--plan", At("plan.json"), "--csv", "-"],
                    ["check", _folder, "--plan", At("plan.json"), "--rerun", "-", "--chunk", "2"],
                    ["check", _folder, "--plan", At("plan.json"), "--html", "-"],
                    ["check", _folder, "--plan", At("cut.exr")],
                    ["check", _folder, "--plan", At("wrong.json")],
                    ["check", _folder, "--depth", "sand"],
                    ["check", At("nowhere")],
                    ["facts", At("nowhere")],
                ]
        )
        {
            Assert.Equal(Ordinary([], verb), Run(native, [], verb));
        }
    }

    [Theory]
    [InlineData("DOTNET_EnableAVX2=0")]
    [InlineData("DOTNET_EnableHWIntrinsic=0")]
    public void Narrow_vectors_and_none_find_the_same(string setting)
    {
        // Without it, code compiled ahead would be used that knows nothing of the switch.
        string[] settings = [setting, "DOTNET_ReadyToRun=0"];
        string[] facts = ["facts", _folder, "--depth", "pixels", "--json"],
            check = ["check", _folder, "--depth", "pixels", "--json", "-"];
        Assert.Equal(Ordinary([], facts).Said, Ordinary(settings, facts).Said);
        Assert.Equal(Ordinary([], check).Said, Ordinary(settings, check).Said);
    }

    private static bool HasLinker =>
        (Environment.GetEnvironmentVariable("PATH") ?? "").Split(':').Any(p => File.Exists(Path.Combine(p, "gcc")))
        && File.ReadAllText("/proc/cpuinfo").Contains("avx2", StringComparison.Ordinal);

    private string At(string name) => Path.Combine(_folder, name);

    private static (int Code, string Said) Ordinary(string[] settings, string[] verb) =>
        Run("dotnet", settings, [Path.Combine(AppContext.BaseDirectory, "DuneCrate.Cli.dll"), .. verb]);

    /// <summary>Exit code and everything that is said, but for how long it took.</summary>
    private static (int Code, string Said) Run(string program, string[] settings, string[] arguments)
    {
        var start = new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (string setting in settings)
        {
            start.Environment[setting.Split('=')[0]] = setting.Split('=')[1];
        }

        using Process process = Process.Start(start)!;
        Task<string> error = process.StandardError.ReadToEndAsync();
        string output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, Taken().Replace(output + error.Result, ""));
    }

    [GeneratedRegex("""("seconds": [0-9.e-]+| in [0-9.]+ s:)""")]
    private static partial Regex Taken();
}

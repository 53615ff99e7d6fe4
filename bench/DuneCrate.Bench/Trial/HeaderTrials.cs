using System.Buffers.Binary;
using System.Diagnostics;
using System.Text;
using System.Text.Json;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store.Rows;

namespace DuneCrate.Bench.Trial;

/// <summary>
/// Headers with numbers that are none: every attribute type that holds fractions, with NaN, infinities, subnormals and extremes, in files
/// that oiiotool writes. Each gives facts or a problem, pictures answer, sealing ends in words, and another shot is checked in its time.
/// </summary>
internal static class HeaderTrials
{
    private const int Seed = 20261201;

    private static readonly float[] Numbers =
    [
        float.NaN,
        float.PositiveInfinity,
        float.NegativeInfinity,
        float.Epsilon,
        -float.Epsilon,
        float.MaxValue,
        float.MinValue,
        1e38f,
        -0f,
        0f,
    ];

    private const string Shot = "HD010";

    /// <summary>The shot that plans the files: one beauty a frame.</summary>
    public static Plan PlanOf(int files)
    {
        Plan whole = StandInPlan.Create(Shot, FrameSet.Range(1, files), 40, 36);
        LayerPlan seabed = whole.Layers[^1];
        OutputPlan beauty = seabed.Outputs[0] with { Padding = 5, Passes = [seabed.Outputs[0].Passes[0]] };
        return whole with { Layers = [seabed with { Rebuild = [], Outputs = [beauty] }] };
    }

    /// <summary>The files through the command line, a check, the viewer, other machines and sealing.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> RunAsync(string work, int files)
    {
        List<string> wrong = [];
        Plan usual = StandInPlan.Create("KP010", FrameSet.Parse("1001-1004"), 64, 36);
        using var server = new TrialServer(work);
        Disk.Render(usual, Path.Combine(server.Renders, "KP010"), null, []);
        await server.FillAsync(usual, PlanOf(files));
        string folder = Path.Combine(server.Renders, Shot);
        byte[] seed = Seeded(server.Renders);
        (int At, int Floats)[] fields = [.. Fields(seed)];
        Directory.CreateDirectory(Path.GetDirectoryName(FileOf(folder, 1))!);
        for (int i = 1; i <= files; i++)
        {
            File.WriteAllBytes(FileOf(folder, i), Mutated(seed, fields, new Random(Seed + i)));
        }

        int[] damaged = Facts(folder, files, wrong);
        string plan = Path.Combine(work, "plan.json");
        await File.WriteAllTextAsync(plan, PlanDocument.Write(PlanOf(files)));
        PixelBench.Dune("check", folder, "--plan", plan, "--depth", "pixels", "--json", Path.Combine(work, "report.json"));
        JsonDocument.Parse(await File.ReadAllBytesAsync(Path.Combine(work, "report.json"))).Dispose();

        await server.StartAsync();
        await server.CheckAsync(Shot, 1800);
        string here = await ReportAsync(server, wrong, "read by the server");
        await LookAsync(server, files, wrong);
        await SealAsync(server, wrong, "with damaged files among them");
        server.Kill();

        await WorkersAsync(server, work, here, wrong);
        foreach (int frame in damaged)
        {
            File.WriteAllBytes(FileOf(folder, frame), seed);
        }

        await server.StartAsync();
        await server.CheckAgainAsync(Shot, 1800);
        await SealAsync(server, wrong, "with every number that is accepted");
        await server.CheckAsync("KP010", 60);
        Directory.Delete(folder, recursive: true);
        return (files, wrong);
    }

    private static string FileOf(string folder, int frame) => Path.Combine(folder, "seabed", $"{Shot}_seabed.{frame:00000}.exr");

    /// <summary>Facts of all files as the command line gives them.</summary>
    /// <returns>The frames whose files are damaged.</returns>
    private static int[] Facts(string folder, int files, List<string> wrong)
    {
        var start = new ProcessStartInfo(PixelBench.Command, ["facts", "--depth", "pixels", "--json", folder])
        {
            RedirectStandardOutput = true,
        };
        using Process facts = Process.Start(start)!;
        using var document = JsonDocument.Parse(facts.StandardOutput.BaseStream);
        facts.WaitForExit();
        JsonElement[] all = [.. document.RootElement.GetProperty("files").EnumerateArray()];
        JsonElement[] damaged = [.. all.Where(f => f.GetProperty("problem").ValueKind == JsonValueKind.String)];
        if (all.Length != files || damaged.Length == 0)
        {
            wrong.Add($"facts tell {all.Length} files, {damaged.Length} of them damaged");
        }

        if (
            damaged.Count(f => !f.GetProperty("problem").GetString()!.Contains("the header field", StringComparison.Ordinal))
            is > 0
                and var n
        )
        {
            wrong.Add($"{n} problems do not say the field");
        }

        return
        [
            .. damaged.Select(f =>
                int.Parse(f.GetProperty("path").GetString()!.Split('.')[^2], System.Globalization.CultureInfo.InvariantCulture)
            ),
        ];
    }

    private static async Task<string> ReportAsync(TrialServer server, List<string> wrong, string what)
    {
        CheckRow check = await server.CheckOfAsync(Shot);
        (int status, string report) = await server.GetAsync($"/KELP/{Shot}/check?handler=Report");
        if (check.State != JobState.Done || status != 200 || !report.Contains("the header field", StringComparison.Ordinal))
        {
            wrong.Add($"{what}: the check is {check.State} {check.Problem}; the report answers {status}, or names no field");
        }

        using var document = JsonDocument.Parse(report);
        return document.RootElement.GetProperty("findings").GetRawText();
    }

    /// <summary>What the viewer asks for, of some of the files.</summary>
    private static async Task LookAsync(TrialServer server, int files, List<string> wrong)
    {
        for (int frame = 1; frame <= files; frame += Math.Max(1, files / 300))
        {
            string of = $"?layer=seabed&pass=beauty&frame={frame}";
            foreach (
                string page in (string[])
                    ["seen" + of, $"tile.png{of}&level=0&column=0&row=0", "picture.png" + of, "probe" + of + "&x=3&y=3"]
            )
            {
                (int status, string text) = await server.GetAsync($"/KELP/{Shot}/{page}");
                if (status >= 500 || (text.StartsWith('{') && !IsJson(text)))
                {
                    wrong.Add($"{page} answers {status}: {text[..Math.Min(text.Length, 100)]}");
                }
            }
        }
    }

    private static bool IsJson(string text)
    {
        var reader = new Utf8JsonReader(Encoding.UTF8.GetBytes(text));
        return JsonDocument.TryParseValue(ref reader, out _);
    }

    private static async Task SealAsync(TrialServer server, List<string> wrong, string what)
    {
        await server.PostAsync(
            $"/KELP/{Shot}/check",
            "?handler=WaiveSeveral",
            ("all", "true"),
            ("by", "Ada Reed"),
            ("reason", "Only a trial.")
        );
        if (await server.SealAsync(Shot, 1800) is { } problem)
        {
            wrong.Add($"sealing {what}: {problem}");
        }
    }

    /// <summary>The same files read by another machine for a server that knows nothing of them.</summary>
    private static async Task WorkersAsync(TrialServer server, string work, string here, List<string> wrong)
    {
        using var broker = new BenchBroker(Path.Combine(work, "js"));
        using var worker = new BenchWorker(broker, server.Renders);
        using var asking = new TrialServer(work, Path.Combine(work, "asking"));
        asking.Arguments.AddRange(["--engine", broker.Options.Shown]);
        await asking.FillAsync(PlanOf(Directory.GetFiles(Path.Combine(server.Renders, Shot, "seabed")).Length));
        await asking.StartAsync();
        await asking.CheckAsync(Shot, 1800);
        if (await ReportAsync(asking, wrong, "read by another machine") != here)
        {
            wrong.Add("another machine finds something else");
        }

        if (worker.Files == 0 || !worker.IsRunning)
        {
            wrong.Add($"the machine read {worker.Files} files and {(worker.IsRunning ? "is there" : "is gone")}");
        }
    }

    /// <summary>A small picture with an attribute of each sort that oiiotool writes.</summary>
    private static byte[] Seeded(string work)
    {
        string path = Path.Combine(work, "seed.exr");
        string identity = "1,0,0,0,0,1,0,0,0,0,1,0,0,0,0,1";
        Timed.Run(
            "oiiotool",
            [
                "--pattern",
                "constant:color=0.1,0.2,0.3",
                "40x36",
                "3",
                "-d",
                "half",
                "--attrib:type=float",
                "renderSeconds",
                "12.5",
                "--attrib:type=float",
                "focalLength",
                "35",
                "--attrib:type=matrix",
                "worldToCamera",
                identity,
                "--attrib:type=matrix",
                "worldToScreen",
                identity,
                "--attrib:type=vector",
                "lightPlace",
                "1,2,3",
                "--attrib:type=float[2]",
                "range",
                "1,2",
                "--attrib:type=float[8]",
                "chromaticities",
                "0.64,0.33,0.3,0.6,0.15,0.06,0.3127,0.329",
                "--attrib:type=rational",
                "FramesPerSecond",
                "24/1",
                "-o",
                path,
            ]
        );
        byte[] bytes = File.ReadAllBytes(path);
        File.Delete(path);
        return bytes;
    }

    /// <summary>Where the numbers of a header stand. Source: <em>OpenEXR File Layout</em>.</summary>
    private static IEnumerable<(int At, int Floats)> Fields(byte[] file)
    {
        for (int at = 8; file[at] != 0; )
        {
            int type = Array.IndexOf(file, (byte)0, at) + 1,
                size = Array.IndexOf(file, (byte)0, type) + 1,
                length = BinaryPrimitives.ReadInt32LittleEndian(file.AsSpan(size));
            string name = Encoding.ASCII.GetString(file, type, size - type - 1);
            if (name is "float" or "v2f" or "v3f" or "m33f" or "m44f" or "chromaticities" or "rational" or "box2f" or "floatvector")
            {
                yield return (size + 4, length / 4);
            }

            at = size + 4 + length;
        }
    }

    private static byte[] Mutated(byte[] seed, (int At, int Floats)[] fields, Random random)
    {
        byte[] changed = [.. seed];
        for (int n = random.Next(1, 4); n > 0; n--)
        {
            (int at, int floats) = fields[random.Next(fields.Length)];
            float number = random.Next(4) == 0 ? BitConverter.Int32BitsToSingle(random.Next()) : Numbers[random.Next(Numbers.Length)];
            BinaryPrimitives.WriteSingleLittleEndian(changed.AsSpan(at + 4 * random.Next(floats)), number);
        }

        return changed;
    }
}

using System.Diagnostics;
using System.Text;
using System.Text.Json;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Bench.Trial;

/// <summary>Addresses, texts and pictures that nobody means well.</summary>
internal static class HostileTrials
{
    private const int Seed = 20261126;
    private const double MostSeconds = 20;

    private static readonly string[] Pages =
    [
        "/",
        "/rules",
        "/upkeep",
        "/new-show",
        "/KELP/new-shot",
        "/KELP/settings",
        "/KELP/summary",
        "/KELP/KP010/plan",
        "/KELP/KP010/plan/scene",
        "/KELP/KP010/plan/files",
        "/KELP/KP010/plan/versions",
        "/KELP/KP010/plan/estimate",
        "/KELP/KP010/plan/print",
        "/KELP/KP010/receive",
        "/KELP/KP010/check",
        "/KELP/KP010/look",
        "/KELP/KP010/stack",
        "/KELP/KP010/crate",
        "/KELP/KP010/picture.png",
        "/KELP/KP010/rebuild.png",
        "/KELP/KP010/evidence.png",
        "/KELP/KP010/probe",
        "/KELP/../../etc/passwd",
        "/KELP/%2e%2e/plan",
        "/js/../../appsettings.json",
        "/lib/..%2f..%2fProgram.cs",
    ];

    private static readonly string[] Names =
    [
        "handler",
        "layer",
        "pass",
        "frame",
        "key",
        "rule",
        "severity",
        "state",
        "words",
        "sort",
        "by",
        "page",
        "from",
        "to",
        "x",
        "y",
        "width",
        "exposure",
        "solo",
        "near",
        "far",
        "what",
        "chunk",
        "form",
        "view",
        "grid",
        "with",
        "run",
        "against",
        "revision",
        "root",
        "folder",
        "id",
        "job",
        "output",
        "frames",
    ];

    private static readonly string[] Values =
    [
        "",
        "0",
        "-1",
        "2147483647",
        "-2147483648",
        "99999999999999999999",
        "NaN",
        "Infinity",
        "1e309",
        "../../../../etc/passwd",
        "..\\..\\x",
        "%00",
        "%ff%fe",
        "<script>alert(1)</script>",
        "'; DROP TABLE shots; --",
        "${jndi:x}",
        "{{7*7}}",
        "1-200000000x2,2-200000000x3",
        "1-2147483647",
        "\u202e\u2066",
        "ä∅\ud83d\ude00",
        "Export",
        "Report",
        "Csv",
        "Zip",
        "Slip",
        "Work",
        "Findings",
        "beauty",
        "sub",
        "=1+2",
        "\r\nSet-Cookie: a=b",
    ];

    /// <summary>Addresses with a few random parameters each.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> QueriesAsync(TrialServer server, int times)
    {
        var wrong = new List<string>();
        var random = new Random(Seed);
        for (int i = 0; i < times; i++)
        {
            var query = new StringBuilder(Pages[random.Next(Pages.Length)]);
            for (int n = random.Next(0, 6); n >= 0; n--)
            {
                string value = random.Next(40) == 0 ? new string('a', 5000) : Values[random.Next(Values.Length)];
                query
                    .Append(query.ToString().Contains('?') ? '&' : '?')
                    .Append(Names[random.Next(Names.Length)])
                    .Append('=')
                    .Append(value.StartsWith('%') ? value : Uri.EscapeDataString(value));
            }

            long start = Stopwatch.GetTimestamp();
            (int status, string text) = await server.GetAsync(query.ToString());
            if (
                status >= 500
                || text.Contains("   at ", StringComparison.Ordinal)
                || Stopwatch.GetElapsedTime(start).TotalSeconds > MostSeconds
            )
            {
                wrong.Add($"{query} answered {status} after {Stopwatch.GetElapsedTime(start).TotalSeconds:0.0} s");
            }
        }

        return (times, wrong);
    }

    /// <summary>Texts of a few letters, and of many, that stand for very much.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> TextsAsync(TrialServer server)
    {
        var wrong = new List<string>();
        int tried = 0;
        string[] frames =
        [
            "1-200000000x2,2-200000000x3",
            "1-2147483647",
            "-2147483648-2147483647x2,1-2147483647x3",
            string.Join(',', Enumerable.Range(0, 20_000).Select(i => i * 3)),
            new string('1', 1_000_000),
            new string(',', 1_000_000),
        ];
        string plan = PlanDocument.Write(StandInPlan.Create("KP099", FrameSet.Parse("1001-1004"), 64, 36));
        string layers = string.Join(',', Enumerable.Range(0, 200_000).Select(i => $$"""{"name":"l{{i}}","outputs":[]}"""));
        string[] plans =
        [
            .. frames.Select(f => plan.Replace("\"1001-1004\"", JsonSerializer.Serialize(f), StringComparison.Ordinal)),
            new string('[', 1_000_000),
            string.Concat(Enumerable.Repeat("{\"a\":", 100_000)),
            new string(' ', 10_000_000),
            "\"" + new string('x', 15_000_000),
            $$"""{"schema":"dune-crate.plan/1","layers":[{{layers}}]}""",
            plan.Replace("\"sub\"", JsonSerializer.Serialize(new string('n', 1_000_000)), StringComparison.Ordinal),
            plan.Replace("{frame}", string.Concat(Enumerable.Repeat("{frame}{layer}", 20_000)), StringComparison.Ordinal),
        ];
        foreach (string bad in frames)
        {
            await TryAsync(
                "plan a shot",
                () =>
                    server.PostAsync(
                        "/KELP/new-shot",
                        "?handler=Plan",
                        ("Code", "KP098"),
                        ("Frames", bad),
                        ("Rate", "24"),
                        ("Width", "64"),
                        ("Height", "36"),
                        ("Camera", "c")
                    )
            );
            foreach (
                PlanEdit edit in (PlanEdit[])
                    [
                        new SetShot { Frames = bad },
                        new SetLayer("sub") { Frames = bad },
                        new WriteCells([new CellText("sub", "beauty", bad)]),
                    ]
            )
            {
                await TryAsync(
                    $"edit: {edit.GetType().Name}",
                    () =>
                        server.EditAsync(
                            "KP010",
                            JsonSerializer.Serialize(
                                new
                                {
                                    revision = 0,
                                    view = "sheet",
                                    edit,
                                },
                                AnyJson.Options
                            )
                        )
                );
            }
        }

        foreach (string bad in plans)
        {
            await TryAsync("bring a plan", () => server.PostAsync("/KELP/new-shot", "?handler=Import", ("Json", bad)));
            await TryAsync("edit with it", () => server.EditAsync("KP010", bad));
        }

        async Task TryAsync(string what, Func<Task<(int Status, string Text)>> ask)
        {
            tried++;
            long start = Stopwatch.GetTimestamp();
            (int status, string text) = await ask();
            double seconds = Stopwatch.GetElapsedTime(start).TotalSeconds;
            if (status >= 500 || seconds > MostSeconds || text.Contains("   at ", StringComparison.Ordinal))
            {
                wrong.Add($"{what}: {status} after {seconds:0.0} s: {text[..Math.Min(text.Length, 120)]}");
            }
        }

        return (tried, wrong);
    }

    /// <summary>Pictures of a few megabytes that stand for gigabytes: taken in, looked at by twenty at once, probed.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> PixelsAsync(TrialServer server)
    {
        var wrong = new List<string>();
        string folder = Path.Combine(server.Renders, "KP050");
        Directory.CreateDirectory(Path.Combine(folder, "sub"));
        string wide = Path.Combine(folder, "sub", "KP050_sub.1001.exr");
        Timed.Run("oiiotool", "--create", "16384x16384", "3", "-d", "half", "--compression", "zips", "-o", wide);
        Timed.Run(
            "oiiotool",
            "--create",
            "16384x16384",
            "3",
            "-d",
            "half",
            "--tile",
            "64",
            "64",
            "--compression",
            "dwaa",
            "-o",
            Path.Combine(folder, "sub", "KP050_sub.1002.exr")
        );
        Timed.Run("oiiotool", "--create", "20000x20000", "3", "-d", "uint8", "-o", Path.Combine(folder, "sub", "big.1001.png"));
        Timed.Run(
            "oiiotool",
            "--create",
            "16384x16384",
            "4",
            "-d",
            "uint16",
            "--compression",
            "zip",
            "-o",
            Path.Combine(folder, "sub", "big.1001.tif")
        );
        Timed.Run("oiiotool", "--create", "12000x12000", "3", "-d", "uint8", "-o", Path.Combine(folder, "sub", "big.1001.jpg"));

        // The same header that claims two thousand million lines.
        byte[] claims = File.ReadAllBytes(wide)[..400];
        foreach (int at in Enumerable.Range(0, 380).Where(i => BitConverter.ToInt32(claims, i) == 16383))
        {
            BitConverter.TryWriteBytes(claims.AsSpan(at), 1_999_999_999);
        }

        File.WriteAllBytes(Path.Combine(folder, "sub", "KP050_sub.1003.exr"), claims);
        long start = Stopwatch.GetTimestamp();
        await server.CheckAsync("KP050", 900);
        Console.Error.WriteLine($"    six pictures were checked in {Stopwatch.GetElapsedTime(start).TotalSeconds:0} s");
        string[] asked =
        [
            .. Enumerable.Range(0, 20).Select(i => $"/KELP/KP050/picture.png?layer=sub&pass=beauty&frame={1001 + i % 3}&exposure={i / 6}"),
        ];
        (int Status, string Text)[] answers = await Task.WhenAll([
            .. asked.Select(server.GetAsync),
            server.GetAsync("/KELP/KP050/probe?layer=sub&pass=beauty&frame=1001&x=9000&y=9000"),
            server.GetAsync("/KELP/KP050/check"),
        ]);
        wrong.AddRange(
            answers.Where(a => a.Status >= 500).Select(a => $"a picture answered {a.Status}: {a.Text[..Math.Min(a.Text.Length, 100)]}")
        );
        server.NotePeak();
        return (6 + answers.Length, wrong);
    }
}

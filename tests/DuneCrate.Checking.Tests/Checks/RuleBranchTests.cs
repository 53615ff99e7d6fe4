using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Reports;
using DuneCrate.Exr;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>
/// What rules can find beside the faults of <see cref="RuleFaultTableTests"/>: each further answer of a rule, with the words for it; and
/// what looks like a fault and is none.
/// </summary>
public sealed class RuleBranchTests : IDisposable
{
    private static readonly string[] Normal = ["normal.X", "normal.Y", "normal.Z"],
        Colour = ["R", "G", "B"];

    /// <summary>By rule and what it finds: severity, layer, frames, the spoiling.</summary>
    private static readonly Dictionary<
        (string Rule, string Found),
        (Severity Severity, string Layer, string Frames, Action<SpoiledShot> Spoil)
    > Answers = new()
    {
        [("depth.range", "0 everywhere")] = (Severity.Warning, "sub", "1003", s => s.Spoil("sub", 1003, "Z", (_, _) => 0)),
        [("depth.range", "the same everywhere")] = (
            Severity.Warning,
            "kelp",
            "1003-1004",
            s => s.Spoil("kelp", 1003, "Z", (_, _) => 9).Spoil("kelp", 1004, "Z", (_, _) => 9)
        ),
        [("depth.range", "negative in places")] = (
            Severity.Warning,
            "sub",
            "1003",
            s => s.Spoil("sub", 1003, "Z", (v, i) => i == 700 ? -2 : v)
        ),
        [("depth.range", "0 in places")] = (Severity.Warning, "sub", "1003", s => s.Spoil("sub", 1003, "Z", (v, i) => i == 700 ? 0 : v)),
        [("format.aspect", "1.01 as wide")] = (Severity.Warning, "kelp", "1002", s => s.Rewrite("kelp", "R", 1002, aspect: 1.01f)),
        [("motion.still", "moves")] = (Severity.Warning, "kelp", "1003", s => MoveOnly(s, 0.07)),
        [("normal.length", "encoded as 0 to 1")] = (
            Severity.Warning,
            "sub",
            "1003",
            s => Each(s, "sub", 1003, Normal, (v, _) => v / 2 + 0.5f)
        ),
        [("modulate.range", "outside 0 to 1")] = (
            Severity.Warning,
            "kelp",
            "1005",
            s => s.Spoil("kelp", 1005, "ao.Y", (v, i) => i == 5 ? 1.25f : v)
        ),
        [("format.data-window", "overscan")] = (
            Severity.Warning,
            "kelp",
            "1002",
            s => s.Rewrite("kelp", "R", 1002, window: new PixelBox(2, 2, 93, 51))
        ),
        [("crypto.manifest", "does not parse")] = (Severity.Warning, "sub", "1003", s => s.Manifest("sub", 1003, "{\"lamp\": ")),
        [("crypto.coverage", "above 1")] = (Severity.Warning, "sub", "1003", s => s.Spoil("sub", 1003, "CryptoObject00.G", (_, _) => 1.2f)),
        [("crypto.storage", "dwaa")] = (
            Severity.Blocker,
            "sub",
            "1004",
            s => Tool.Oiio(s.Path("sub", "CryptoObject00.R", 1004), "--compression", "dwaa", "-o", s.Path("sub", "CryptoObject00.R", 1004))
        ),
        [("crypto.storage", "without its metadata")] = (
            Severity.Blocker,
            "sub",
            "1004",
            s =>
                Tool.Oiio(
                    s.Path("sub", "CryptoObject00.R", 1004),
                    "--eraseattrib",
                    "cryptomatte/.*",
                    "-o",
                    s.Path("sub", "CryptoObject00.R", 1004)
                )
        ),
        [("pixels.nonfinite", "infinit")] = (
            Severity.Blocker,
            "kelp",
            "1007",
            s => s.Spoil("kelp", 1007, "G", (v, i) => i == 99 ? float.PositiveInfinity : v)
        ),
        [("pixels.depth", "sRGB")] = (
            Severity.Blocker,
            "kelp",
            "1007",
            s => Each(s, "kelp", 1007, Colour, (v, _) => Linear(MathF.Round(Encoded(v) * 255) / 255))
        ),
        [("alpha.solid", "0 everywhere")] = (Severity.Blocker, "kelp", "1007", s => s.Spoil("kelp", 1007, "A", (_, _) => 0)),
        [("alpha.range", "-0.5")] = (Severity.Warning, "kelp", "1007", s => s.Spoil("kelp", 1007, "A", (v, i) => i == 3 ? -0.5f : v)),
        [("alpha.premultiplied", "colour below alpha")] = (Severity.Warning, "kelp", "1001-1012", s => Straight(s, "kelp")),
        [("rebuild.residual", "mean residual")] = (
            Severity.Warning,
            "seabed",
            "1003",
            s => Each(s, "seabed", 1003, Colour, (v, _) => 1.01f * v)
        ),
        [("rebuild.residual", "pixels off")] = (
            Severity.Blocker,
            "seabed",
            "1003-1004",
            s => Each(Each(s, "seabed", 1003, Colour, (v, _) => 1.5f * v), "seabed", 1004, Colour, (v, _) => 1.5f * v)
        ),
        [("uv.range", "up to 1.5")] = (Severity.Note, "seabed", "1003", s => s.Spoil("seabed", 1003, "uv.V", (v, i) => i == 8 ? 1.5f : v)),
        [("files.copy", "1004")] = (
            Severity.Warning,
            "kelp",
            "1008",
            s => File.Copy(s.Path("kelp", "Z", 1004), s.Path("kelp", "Z", 1008), overwrite: true)
        ),
        [("frames.duplicate", "_v002")] = (Severity.Blocker, "sub", "1004-1005", s => BothVersions(s, 1004, 1005)),
        [("frames.duplicate", ".png")] = (
            Severity.Blocker,
            "kelp",
            "1004",
            s => File.Copy(s.Path("kelp", "R", 1004), Path.ChangeExtension(s.Path("kelp", "R", 1004), ".png"))
        ),
    };

    /// <summary>Nothing to find, by rule and why.</summary>
    private static readonly Dictionary<(string Rule, string Why), Action<SpoiledShot>> Harmless = new()
    {
        [("pixels.negative", "the limit is −1e-4")] = s => s.Spoil("sub", 1003, "R", (v, i) => i == 700 ? -5e-5f : v),
        [("pixels.negative", "directions point everywhere")] = s => s.Spoil("sub", 1003, "normal.X", (v, _) => -v),
        [("pixels.clipped", "something is brighter")] = s =>
            Each(
                s,
                "sub",
                1003,
                Colour,
                (v, i) =>
                    i == 50 ? 1.5f
                    : i % 96 < 20 ? 1
                    : Math.Min(v, 0.9f)
            ),
        [("pixels.flicker", "it fades")] = s => Frames.ToList().ForEach(f => s.SpoilLight("seabed", f, v => v * (1 + 0.05f * (f - 1001)))),
        [("pixels.flicker", "two in a hundred may be")] = s => s.SpoilLight("seabed", 1006, v => 1.015f * v),
        [("pixels.fireflies", "a glow has neighbours")] = s =>
            s.Spoil("seabed", 1006, "R", (v, i) => v + 900 * MathF.Exp(-(Square(i % 96 - 40) + Square(i / 96 - 30)) / 60)),
        [("pixels.repeat", "nothing moves")] = s =>
            Frames
                .ToList()
                .ForEach(f =>
                {
                    if (f > 1001)
                    {
                        File.Copy(s.Path("seabed", "R", 1001), s.Path("seabed", "R", f), overwrite: true);
                    }
                }),
        [("pixels.constant", "black has a rule of its own")] = s => Each(s, "kelp", 1003, Colour, (_, _) => 0),
        [("pixels.depth", "few levels are no 8 bits")] = s => Each(s, "kelp", 1007, Colour, (v, _) => v > 0.2f ? 0.5f : 0.25f),
        [("alpha.range", "a thousandth is rounding")] = s => s.Spoil("sub", 1003, "A", (v, i) => i == 700 ? 1.0005f : v),
        [("alpha.solid", "one layer is meant to be")] = s => s.Spoil("seabed", 1003, "R", (v, _) => v),
        [("alpha.premultiplied", "black is black either way")] = s => Each(s, "sub", 1003, Colour, (_, _) => 0),
        [("normal.length", "a hundredth is filtering")] = s => Each(s, "sub", 1003, Normal, (v, _) => 0.99f * v),
        [("motion.still", "too little of the picture moves")] = s => MoveOnly(s, 0.03),
        [("motion.still", "it may move along one axis")] = s => s.Spoil("kelp", 1003, "motion.Y", (_, _) => 0),
        [("identity.unknown", "no ids are planned")] = s => s.Spoil("sub", 1003, "object_id.Y", (v, i) => i is > 700 and < 790 ? 77 : v),
        [("files.size", "a little more is no outlier")] = s => s.Append("sub", "R", 1005, 40),
        [("files.stale", "all of it is old")] = s =>
            Frames
                .ToList()
                .ForEach(f => File.SetLastWriteTimeUtc(s.Path("kelp", "R", f), DateTime.UtcNow.AddDays(-9).AddMinutes(f - 1000))),
        [("format.drift", "an owner is no picture")] = s =>
            s.Rewrite("kelp", "R", 1004, attribute: ExrAttribute.Text("owner", "another machine")),
        [("format.colour", "the show says nothing of it")] = s =>
            s.Rewrite("kelp", "R", 1002, attribute: ExrAttribute.Chromaticities(0.64f, 0.33f, 0.3f, 0.6f, 0.15f, 0.06f, 0.3127f, 0.329f)),
        [("files.copy", "a hold follows itself")] = s =>
            new[] { 1010, 1011, 1012 }.ToList().ForEach(f => File.Copy(s.Path("kelp", "R", 1009), s.Path("kelp", "R", f), overwrite: true)),
        [("format.type", "the planned one is there too")] = s =>
            File.Copy(s.Path("kelp", "R", 1004), Path.ChangeExtension(s.Path("kelp", "R", 1004), ".png")),
        [("crypto.coverage", "an empty pixel sums to 0")] = s =>
            Each(s, "sub", 1003, ["CryptoObject00.G", "CryptoObject00.A"], (_, _) => 0),
        [("rebuild.residual", "two in a thousand is rounding")] = s => Each(s, "seabed", 1003, Colour, (v, _) => 1.002f * v),
        [("depth.range", "far away is no fault")] = s => s.Spoil("sub", 1003, "Z", (v, i) => i < 2000 ? 1e10f : v),
    };

    private readonly SpoiledShot _shot = new();

    private static IEnumerable<int> Frames => SpoiledShot.CleanPlan.Shot.Frames;

    /// <summary>Frame 1003 of kelp without motion, its picture that of its neighbours but for a share of it, from the top left.</summary>
    private static void MoveOnly(SpoiledShot shot, double share)
    {
        int blocks = BlockSums.Across * BlockSums.Down,
            moved = (int)(share * blocks),
            wide = SpoiledShot.Width / BlockSums.Across,
            high = SpoiledShot.Height / BlockSums.Down;
        foreach (string channel in Colour)
        {
            foreach (int frame in (int[])[1002, 1003, 1004])
            {
                shot.Spoil(
                    "kelp",
                    frame,
                    channel,
                    (_, i) =>
                        frame == 1003
                        && i / SpoiledShot.Width / high * BlockSums.Across + i % SpoiledShot.Width / wide is var block
                        && block < moved
                            ? 0.5f
                            : 0.25f
                );
            }
        }

        shot.Spoil("kelp", 1003, "motion.X", (_, _) => 0).Spoil("kelp", 1003, "motion.Y", (_, _) => 0);
    }

    public static TheoryData<string, string> AllAnswers()
    {
        var data = new TheoryData<string, string>();
        foreach ((string rule, string found) in Answers.Keys)
        {
            data.Add(rule, found);
        }

        return data;
    }

    public static TheoryData<string, string> AllHarmless()
    {
        var data = new TheoryData<string, string>();
        foreach ((string rule, string why) in Harmless.Keys)
        {
            data.Add(rule, why);
        }

        return data;
    }

    [Theory]
    [MemberData(nameof(AllAnswers))]
    public void A_rule_says_what_it_found(string rule, string found)
    {
        (Severity severity, string layer, string frames, Action<SpoiledShot> spoil) = Answers[(rule, found)];
        spoil(_shot);
        CheckReport report = _shot.Check();
        Finding? finding = report.Findings.FirstOrDefault(f =>
            f.Rule == rule && (f.Found + f.Message).Contains(found, StringComparison.Ordinal)
        );
        Assert.True(
            finding is not null,
            $"no such finding; found were {string.Join("; ", report.Findings.Select(f => $"{f.Rule} {f.Layer} {f.Frames}: {f.Found}"))}"
        );
        Assert.Equal((severity, layer, frames), (finding.Severity, finding.Layer, finding.Frames.ToString()));
    }

    [Theory]
    [MemberData(nameof(AllHarmless))]
    public void A_rule_is_silent_where_nothing_is_wrong(string rule, string why)
    {
        Harmless[(rule, why)](_shot);
        Finding[] found = [.. _shot.Check().Findings.Where(f => f.Rule == rule)];
        Assert.True(found.Length == 0, $"{why}, and yet: {string.Join("; ", found.Select(f => f.Message))}");
    }

    [Fact]
    public void Findings_of_one_cause_are_one_line()
    {
        foreach (int frame in Frames)
        {
            Each(_shot, "kelp", frame, ["R"], (v, i) => i == 30 ? float.NaN : v);
        }

        Finding finding = Assert.Single(_shot.Found("pixels.nonfinite"));
        Assert.Equal("1001-1012", finding.Frames.ToString());
        Assert.Equal([30, 0], finding.At!);
    }

    [Fact]
    public void Different_causes_in_one_output_are_lines_of_their_own()
    {
        _shot
            .Spoil("sub", 1002, "Z", (_, _) => 0)
            .Spoil("sub", 1004, "Z", (v, i) => i == 9 ? -1 : v)
            .Spoil("sub", 1005, "Z", (v, i) => i == 9 ? -1 : v);
        Assert.Equal(
            [("1002", "0 everywhere"), ("1004-1005", "negative in places")],
            _shot.Found("depth.range").Select(f => (f.Frames.ToString(), f.Found))
        );
    }

    /// <summary>The last frames of a range are the last to come; earlier ones that are newer were made again.</summary>
    [Theory]
    [InlineData("1011-1012", "")]
    [InlineData("1005,1012", "")]
    [InlineData("1005-1006", "1005-1006")]
    [InlineData("1001", "1001")]
    public void Frames_that_came_later_were_rendered_again_unless_they_are_the_last(string later, string found)
    {
        var begun = new DateTime(2026, 5, 4, 12, 0, 0, DateTimeKind.Utc);
        FrameSet newer = FrameSet.Parse(later);
        for (int frame = 1001; frame <= 1012; frame++)
        {
            File.SetLastWriteTimeUtc(_shot.Path("sub", "R", frame), begun.AddSeconds(frame - 1001).AddHours(newer.Contains(frame) ? 1 : 0));
        }

        Assert.Equal(
            found,
            string.Join(
                ' ',
                _shot.Check(FactsDepth.Header).Findings.Where(f => f is { Rule: "files.newer", Layer: "sub" }).Select(f => f.Frames)
            )
        );
    }

    [Fact]
    public void Header_depth_asks_nothing_of_pixels()
    {
        Each(_shot, "kelp", 1003, Colour, (_, _) => float.NaN);
        Assert.Empty(_shot.Check(FactsDepth.Header).Findings.Where(f => f.Rule != "files.newer"));
        Assert.NotEmpty(_shot.Found("pixels.nonfinite"));
    }

    [Fact]
    public void A_report_does_not_depend_on_the_order_in_which_facts_came()
    {
        Each(_shot, "kelp", 1003, Colour, (_, _) => 0);
        _shot.SpoilLight("seabed", 1006, v => 1.5f * v).Spoil("sub", 1003, "A", (_, _) => 1);
        IntakeResult intake = Disk.TakeIn(_shot.Folder, _shot.Plan, FactsDepth.Pixels);
        string Judged(IEnumerable<KeyValuePair<string, FileFacts>> facts) =>
            FolderCheck.Judge(new CheckContext(_shot.Plan, intake with { Facts = facts.ToImmutableDictionary() })).Write();
        KeyValuePair<string, FileFacts>[] shuffled = [.. intake.Facts];
        string first = Judged(shuffled);
        for (int round = 0; round < 5; round++)
        {
            new Random(round).Shuffle(shuffled);
            Assert.Equal(first, Judged(shuffled));
        }
    }

    public void Dispose() => _shot.Dispose();

    private static SpoiledShot Each(SpoiledShot shot, string layer, int frame, string[] channels, Func<float, int, float> change) =>
        shot.Rewrite(
            layer,
            channels[0],
            frame,
            planes: p => p.SetItems(channels.Select(c => KeyValuePair.Create(c, p[c].Select(change).ToArray())))
        );

    /// <summary>A layer that is planned straight and comes premultiplied: colour is half of alpha everywhere.</summary>
    private static void Straight(SpoiledShot shot, string layer)
    {
        foreach (int frame in Frames)
        {
            shot.Rewrite(
                layer,
                "R",
                frame,
                planes: p => p.SetItems(Colour.Select(c => KeyValuePair.Create(c, p["A"].Select(a => a / 2).ToArray())))
            );
        }

        shot.Plan = shot.Plan with
        {
            Layers = [.. shot.Plan.Layers.Select(l => l.Name == layer ? l with { Alpha = AlphaMode.Straight } : l)],
        };
    }

    /// <summary>All of v001, and some frames of v002 beside them.</summary>
    private static void BothVersions(SpoiledShot shot, params int[] frames)
    {
        shot.Version("v001", "v001");
        foreach (int frame in frames)
        {
            string path = Path.Combine(shot.Folder, "sub", $"KP010_sub_v001.{frame}.exr");
            File.Copy(path, path.Replace("v001", "v002", StringComparison.Ordinal));
        }
    }

    private static float Square(float v) => v * v;

    /// <summary>IEC 61966-2-1:1999.</summary>
    private static float Encoded(float v) =>
        v <= 0.0031308f ? 12.92f * Math.Max(0, v) : Math.Min(1, 1.055f * MathF.Pow(v, 1 / 2.4f) - 0.055f);

    private static float Linear(float v) => v <= 0.04045f ? v / 12.92f : MathF.Pow((v + 0.055f) / 1.055f, 2.4f);
}

using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Checking.Rules;
using DuneCrate.Exr;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>
/// Rule × fault, by files that are spoiled by hand: each rule fires on its fault, in the right layer and frames. That all rules are silent
/// on clean frames, and find
/// the stand-in's own faults and nothing else, is in <see cref="RulesTests"/>.
/// </summary>
public sealed class RuleFaultTableTests : IDisposable
{
    /// <summary>Rules whose fault is among those of the stand-in, or has a test of its own in <see cref="RulesTests"/>.</summary>
    private static readonly string[] Elsewhere =
    [
        "frames.missing",
        "frames.extra",
        "frames.gap",
        "frames.duplicate",
        "frames.still",
        "outputs.missing",
        "outputs.unplanned",
        "names.template",
        "names.padding",
        "names.order",
        "files.unreadable",
        "files.truncated",
        "files.settling",
        "format.resolution",
        "format.rate",
        "format.compression",
        "format.camera",
        "channels.missing",
        "channels.extra",
        "channels.name",
        "channels.type",
        "channels.alpha",
        "pixels.nonfinite",
        "pixels.black",
        "pixels.depth",
        "pixels.repeat",
        "rebuild.residual",
        "files.newer",
        "files.stray",
        "format.contradiction",
    ];

    private static readonly Dictionary<string, (string Layer, string Frames, Action<SpoiledShot> Spoil)> Faults = new()
    {
        ["names.case"] = (
            "sub",
            "1004",
            s => File.Move(s.Path("sub", "R", 1004), System.IO.Path.Combine(s.Folder, "sub", "kp010_sub.1004.exr"))
        ),
        ["names.characters"] = (
            "sub",
            "1001",
            s => File.Copy(s.Path("sub", "R", 1001), System.IO.Path.Combine(s.Folder, "sub", "first try.1001.exr"))
        ),
        ["names.version"] = ("sub", "1004-1005", s => s.Version("v001", "v002", 1004, 1005)),
        ["files.size"] = ("sub", "1005", s => s.Append("sub", "R", 1005, 400_000)),
        ["files.stale"] = ("kelp", "1003", s => File.SetLastWriteTimeUtc(s.Path("kelp", "R", 1003), DateTime.UtcNow.AddDays(-2))),
        ["files.copy"] = ("sub", "1009", s => File.Copy(s.Path("sub", "R", 1003), s.Path("sub", "R", 1009), overwrite: true)),
        ["format.type"] = (
            "sub",
            "1006",
            s => File.WriteAllBytes(s.Path("sub", "R", 1006), [0x89, .. "PNG\r\n\u001a\n"u8, .. new byte[100]])
        ),
        ["format.data-window"] = (
            "sub",
            "1002",
            s => s.Rewrite("sub", "R", 1002, window: new PixelBox(0, 0, 95, 53), data: new PixelBox(0, 0, 95, 53 - 6))
        ),
        ["format.aspect"] = ("kelp", "1002-1003", s => s.Rewrite("kelp", "R", 1002, aspect: 2).Rewrite("kelp", "R", 1003, aspect: 2)),
        ["format.parts"] = ("kelp", "1002", s => s.Rewrite("kelp", "R", 1002, attribute: ExrAttribute.Text("view", "left"))),
        ["format.colour"] = (
            "kelp",
            "1002",
            s =>
                s.Rewrite(
                    "kelp",
                    "R",
                    1002,
                    attribute: ExrAttribute.Chromaticities(0.64f, 0.33f, 0.3f, 0.6f, 0.15f, 0.06f, 0.3127f, 0.329f)
                ).Plan = s.Plan with
                {
                    Show = s.Plan.Show with { ColourSpace = "ACEScg" },
                }
        ),
        ["format.drift"] = ("kelp", "1004", s => s.Rewrite("kelp", "R", 1004, attribute: ExrAttribute.Text("colorSpace", "lin_rec709"))),
        ["pixels.negative"] = ("sub", "1003", s => s.Spoil("sub", 1003, "R", (v, i) => i == 700 ? -1 : v)),
        ["pixels.constant"] = (
            "sub",
            "1003",
            s => s.Spoil("sub", 1003, "R", (_, _) => 0.5f).Spoil("sub", 1003, "G", (_, _) => 0.5f).Spoil("sub", 1003, "B", (_, _) => 0.5f)
        ),
        ["pixels.clipped"] = (
            "sub",
            "1003",
            s => s.Spoil("sub", 1003, "R", Clip).Spoil("sub", 1003, "G", Clip).Spoil("sub", 1003, "B", Clip)
        ),
        ["pixels.flicker"] = ("seabed", "1006", s => s.SpoilLight("seabed", 1006, v => 1.5f * v)),
        ["pixels.fireflies"] = (
            "seabed",
            "1006",
            s =>
                s.Spoil("seabed", 1006, "R", (v, i) => i is 1000 or 2020 or 3040 or 4060 ? 900 : v).Plan = s.WithThreshold(
                    "pixels.fireflies",
                    "pixels",
                    3
                )
        ),
        ["pixels.seed"] = ("seabed", "1002-1012", s => s.StandingNoise("seabed")),
        ["alpha.range"] = ("sub", "1003", s => s.Spoil("sub", 1003, "A", (v, i) => i == 700 ? 1.5f : v)),
        ["alpha.solid"] = ("sub", "1003", s => s.Spoil("sub", 1003, "A", (_, _) => 1)),
        ["alpha.premultiplied"] = ("sub", "1003", s => s.Spoil("sub", 1003, "R", (v, i) => v + 0.5f)),
        ["alpha.agreement"] = ("sub", "1003", s => s.Spoil("sub", 1003, "A", (_, i) => i % 96 < 48 ? 1 : 0)),
        ["depth.range"] = ("sub", "1003", s => s.Spoil("sub", 1003, "Z", (_, _) => 5)),
        ["depth.filtered"] = (
            "sub",
            "1001-1012",
            s => s.SpoilAll("sub", "Z", (p, i) => i % 96 is 0 or 95 ? p[i] : (p[i - 1] + p[i] + p[i + 1]) / 3)
        ),
        ["depth.precision"] = ("seabed", "1001-1012", s => s.AsHalf("seabed", "Z", 60)),
        ["normal.length"] = (
            "sub",
            "1003",
            s =>
                s.Spoil("sub", 1003, "normal.X", (v, _) => 0.8f * v)
                    .Spoil("sub", 1003, "normal.Y", (v, _) => 0.8f * v)
                    .Spoil("sub", 1003, "normal.Z", (v, _) => 0.8f * v)
        ),
        ["uv.range"] = ("seabed", "1003", s => s.Spoil("seabed", 1003, "uv.U", (v, _) => v + 2)),
        ["motion.still"] = (
            "kelp",
            "1003",
            s => s.Spoil("kelp", 1003, "motion.X", (_, _) => 0).Spoil("kelp", 1003, "motion.Y", (_, _) => 0)
        ),
        ["modulate.range"] = ("sub", "1003", s => s.Spoil("sub", 1003, "ao.Y", (v, _) => v - 0.5f)),
        ["identity.unknown"] = (
            "sub",
            "1003",
            s => s.Spoil("sub", 1003, "object_id.Y", (v, i) => i is > 700 and < 790 ? 77 : v).Plan = s.WithIds("sub", "1-40")
        ),
        ["identity.absent"] = ("sub", "1001-1012", s => s.Plan = s.WithIds("sub", "1-40")),
        ["identity.filtered"] = (
            "sub",
            "1003",
            s =>
                s.Spoil(
                    "sub",
                    1003,
                    "object_id.Y",
                    (_, i) =>
                        i % 4 == 3 ? 6
                        : i / 4 % 2 == 0 ? 2
                        : 10
                )
        ),
        ["crypto.storage"] = ("sub", "1001-1012", s => s.AsHalf("sub", "CryptoObject00.R", 1)),
        ["crypto.manifest"] = ("sub", "1003", s => s.Manifest("sub", 1003, """{"lamp":"12345678"}""")),
        ["crypto.coverage"] = ("sub", "1003", s => s.Spoil("sub", 1003, "CryptoObject00.A", (_, i) => 0.9f)),
        ["rebuild.terms"] = (
            "sub",
            "",
            s =>
                s.Plan = s.Plan with
                {
                    Layers =
                    [
                        .. s.Plan.Layers.Select(l => l.Name == "sub" ? l with { Rebuild = [.. l.Rebuild, new RebuildTerm("diffuse")] } : l),
                    ],
                }
        ),
    };

    private readonly SpoiledShot _shot = new();

    public static TheoryData<string> Rules() => [.. Faults.Keys];

    [Theory]
    [MemberData(nameof(Rules))]
    public void A_rule_fires_on_its_fault(string rule)
    {
        (string layer, string frames, Action<SpoiledShot> spoil) = Faults[rule];
        spoil(_shot);
        CheckReport report = _shot.Check();
        Finding[] found = [.. report.Findings.Where(f => f.Rule == rule)];
        Assert.True(
            found.Length > 0,
            $"{rule} is silent; found were {string.Join("; ", report.Findings.Select(f => $"{f.Rule} {f.Frames}"))}"
        );
        Assert.All(found, f => Assert.Equal((layer, frames), (f.Layer ?? "", f.Frames.ToString())));
        Assert.All(
            found,
            f => Assert.All(new[] { f.Expected, f.Found, f.Message, f.Remedy }, text => Assert.False(string.IsNullOrWhiteSpace(text)))
        );
    }

    [Theory]
    [InlineData("near=0.1", null)]
    [InlineData("far=100000", null)]
    [InlineData("near=0.1 far=100000", null)]
    [InlineData("near=60000", "60000 to any distance")]
    [InlineData("near=0.1 far=0.2", "0.1 to 0.2")]
    public void Distances_beyond_the_planned_near_and_far_are_told(string cell, string? expected)
    {
        _shot.Plan = new WriteCells([new CellText("sub", "depth", $"float {cell}")]).Apply(_shot.Plan);
        Finding[] found = [.. _shot.Check().Findings.Where(f => f.Rule == "depth.range")];
        Assert.Equal(expected, found.FirstOrDefault()?.Expected);
        Assert.All(
            found,
            f => Assert.Equal(("sub", "depth", "1001-1012", RemedyKind.Look), (f.Layer, f.Pass, f.Frames.ToString(), f.RemedyKind))
        );
    }

    /// <summary>The farthest distance is 10.99, and is known to 1/128; far is met within 1/64.</summary>
    [Theory]
    [InlineData("10.9", false)]
    [InlineData("10.5", true)]
    public void Distances_a_little_beyond_far_are_what_they_are_known_to(string far, bool isTold)
    {
        _shot.Plan = new WriteCells([new CellText("sub", "depth", $"float far={far}")]).Apply(_shot.Plan);
        _shot.Spoil("sub", 1003, "Z", (v, i) => 10 + i % 100 / 100f);
        Assert.Equal(isTold, _shot.Check().Findings.Any(f => f.Rule == "depth.range" && f.Frames.Contains(1003)));
    }

    /// <summary>Newcombe, Two-sided confidence intervals for the single proportion (1998), 81 of 263: 0.2553 (from memory).</summary>
    [Fact]
    public void The_least_share_that_a_count_proves_is_the_published_one() =>
        Assert.Equal(0.2553, DepthFiltered.LeastShare(81, 263, 1.959964), 4);

    public static TheoryData<string> RulesWithNumbers() => [.. Faults.Keys.Where(r => !RuleBook.Find(r)!.Thresholds.IsEmpty)];

    [Theory]
    [MemberData(nameof(RulesWithNumbers))]
    public void Thresholds_that_nothing_reaches_silence_a_rule(string rule)
    {
        Faults[rule].Spoil(_shot);
        var never = new RuleSetting { Thresholds = new(RuleBook.Find(rule)!.Thresholds.Select(t => KeyValuePair.Create(t.Name, 1e9))) };
        _shot.Plan = _shot.Plan with { Show = _shot.Plan.Show with { Rules = new() { [rule] = never } } };
        Assert.DoesNotContain(_shot.Check().Findings, f => f.Rule == rule);
    }

    [Fact]
    public void Every_rule_of_the_book_has_its_fault() =>
        Assert.Equal(RuleBook.All.Select(r => r.Id).Order(), Faults.Keys.Concat(Elsewhere).Order());

    [Fact]
    public void Two_names_that_differ_only_in_case_are_a_blocker()
    {
        File.Copy(_shot.Path("sub", "R", 1004), Path.Combine(_shot.Folder, "sub", "KP010_SUB.1004.exr"));
        CheckReport report = _shot.Check(FactsDepth.Header);
        Assert.Contains(report.Findings, f => f is { Rule: "names.case", Severity: Severity.Blocker });
    }

    [Fact]
    public void Alpha_of_zero_everywhere_is_a_blocker()
    {
        _shot.Spoil("sub", 1003, "A", (_, _) => 0);
        CheckReport report = _shot.Check();
        Assert.Equal(Severity.Blocker, Assert.Single(report.Findings, f => f.Rule == "alpha.solid").Severity);
    }

    [Fact]
    public void A_shows_threshold_decides_when_a_rule_speaks()
    {
        _shot.Spoil("seabed", 1006, "R", (v, i) => i == 96 * 30 + 40 ? 9 : v);
        Assert.DoesNotContain(_shot.Check().Findings, f => f.Rule == "pixels.fireflies");
        _shot.Plan = _shot.WithThreshold("pixels.fireflies", "pixels", 0);
        Finding finding = _shot.Check().Findings.First(f => f is { Rule: "pixels.fireflies", Pass: "beauty", Layer: "seabed" });
        Assert.Equal(("1006", 40, 30), (finding.Frames.ToString(), finding.At![0], finding.At[1]));
    }

    public void Dispose() => _shot.Dispose();

    private static float Clip(float value, int place) => place % 96 < 20 ? 1 : Math.Min(value, 0.9f);
}

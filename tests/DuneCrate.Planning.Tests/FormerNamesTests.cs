using System.Text.Json;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Rules;
using DuneCrate.StandIns.Demo;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Planning.Tests;

/// <summary>Documents of earlier versions, and of people who use other words for a pass, are understood without a finding.</summary>
public sealed class FormerNamesTests : IDisposable
{
    private readonly TempFolder _folder = new();

    private static string Former(string plan)
    {
        foreach ((string former, string key) in FormerKeys.All)
        {
            plan = plan.Replace($"\"{key}\"", $"\"{former}\"", StringComparison.Ordinal)
                .Replace($"\"{key}.", $"\"{former}.", StringComparison.Ordinal);
        }

        return plan;
    }

    [Fact]
    public void A_plan_with_former_keys_is_read_with_todays_and_keeps_its_channels()
    {
        Plan today = StandInPlan.Create("KP010", FrameSet.Range(1001, 1002));
        (Plan? plan, var problems) = PlanDocument.Read(Former(PlanDocument.Write(today)));
        Assert.Empty(problems);
        Assert.Equal(
            today.Layers.SelectMany(l => l.AllPasses.Select(p => p.Pass)),
            plan!.Layers.SelectMany(l => l.AllPasses.Select(p => p.Pass))
        );
        Assert.Equal(today.Layers.SelectMany(l => l.Rebuild), plan.Layers.SelectMany(l => l.Rebuild));
        Assert.Contains("diffuse_direct.R", plan.FindLayer("sub")!.FindPass("direct_diffuse")!.Channels.Keys);
        Assert.Equal(
            PlanRuleBook.Check(PlanContext.Create(today)).Select(f => f.Message),
            PlanRuleBook.Check(PlanContext.Create(plan)).Select(f => f.Message)
        );
    }

    [Fact]
    public void Frames_rendered_to_such_a_plan_are_clean()
    {
        Plan plan = PlanDocument.Read(Former(PlanDocument.Write(StandInPlan.Create("KP010", FrameSet.Range(1001, 1003), 96, 54)))).Plan!;
        Disk.Render(plan, _folder.Path, null, []);
        (_, CheckReport report) = Disk.Check(_folder.Path, plan, FactsDepth.Pixels, new NoFactsCache());
        Assert.DoesNotContain(report.Findings, f => f.Severity != Severity.Note || f.Rule == "channels.name");
    }

    [Fact]
    public void A_file_of_its_own_keeps_the_word_that_the_plan_first_gave_its_pass()
    {
        const string json = """
            { "schema": "dune-crate.plan/1", "show": { "code": "KELP" }, "shot": { "code": "KP010", "frames": "1001",
              "frameRate": "24", "width": 8, "height": 8 },
              "layers": [ { "name": "sub", "outputs": [ { "template": "{layer}/{pass}.{frame}.exr", "passes": [
                { "pass": "diffuse_direct", "channels": { "R": "half", "G": "half", "B": "half" } },
                { "pass": "zdepth", "channels": { "Z": "float" } },
                { "pass": "emission", "channels": { "R": "half", "G": "half", "B": "half" } } ] } ] } ] }
            """;
        Plan plan = PlanDocument.Read(json).Plan!;
        Assert.Equal(["direct_diffuse", "depth", "emission"], plan.Layers[0].AllPasses.Select(p => p.Pass));
        string[] names = ["sub/diffuse_direct.####.exr", "sub/zdepth.####.exr", "sub/emission.####.exr"];
        Assert.Equal(names, PlannedOutput.From(plan).Select(o => o.Key));
        Assert.Equal(names, PlannedOutput.From(PlanDocument.Read(PlanDocument.Write(plan)).Plan!).Select(o => o.Key));
    }

    [Theory]
    [InlineData("bounces_glossy", "bounces.specular")]
    [InlineData("seed_per_frame", "seed_changes")]
    [InlineData("samples_subsurface", "samples.scattering")]
    [InlineData("their_own", "their_own")]
    public void Render_settings_get_their_names_of_today(string former, string name)
    {
        Plan plan = PlanMaker.WithSub("diffuse") with { };
        plan = plan with { Layers = [plan.Layers[0] with { Settings = new() { [former] = "1" } }] };
        Plan read = PlanDocument.Read(PlanDocument.Write(plan)).Plan!;
        Assert.Equal([name], read.Layers[0].Settings!.Keys);
        Assert.Equal("1", RenderSettings.Value(read, read.Layers[0], name));
    }

    [Fact]
    public void Nothing_is_made_anew_when_there_is_nothing_to_resolve()
    {
        Plan plan = DemoPlan.Create("KP010", FrameSet.Range(1001, 1002));
        Assert.Same(plan, PlanNames.Resolve(plan));
    }

    [Fact]
    public void Reports_and_waivers_of_earlier_versions_are_about_the_passes_of_today()
    {
        Finding finding = new()
        {
            Rule = "pixels.black",
            Severity = Severity.Warning,
            Output = "sub/KP010_sub.####.exr",
            Pass = "transmission",
            Expected = "",
            Found = "",
            Message = "",
            Remedy = "",
        };
        var report = new CheckReport
        {
            Root = ".",
            Depth = FactsDepth.Pixels,
            Sequences = [],
            Findings = [finding],
            Rerun = [],
            Summary = new CheckSummary(0, 1, 0, 0, 0, 0),
        };
        Assert.Equal("refraction", CheckReport.Read(report.Write()).Findings[0].Pass);

        var waivers = new WaiverDocument([
            new Waiver
            {
                Rule = "pixels.black",
                Pass = "transmission",
                By = "somebody",
                Reason = "no glass here",
            },
        ]);
        StoragePath file = Disk.File(Path.Combine(_folder.Path, "waivers.json"));
        file.ReplaceText(JsonSerializer.Serialize(waivers, AnyJson.Options));
        Assert.Equal("refraction", WaiverDocument.ReadFile(file)[0].Pass);
    }

    public void Dispose() => _folder.Dispose();
}

using System.Text.Json;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Failures;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Estimates;
using DuneCrate.Planning.Rules;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Crates.Tests.Documents;

/// <summary>
/// What comes from outside and does not fit is refused with words, or it is a document that everything works on; nothing breaks in between.
/// </summary>
public sealed class MutatedDocumentTests : IDisposable
{
    private static readonly Plan Whole = WholePlan();

    private static readonly Lazy<string> Manifest = new(() =>
    {
        using var frames = new TempFolder();
        Disk.Render(Whole, frames.Path, FrameSet.Single(1001), []);
        (IntakeResult intake, _) = Disk.Check(frames.Path, Whole, FactsDepth.Header, new NoFactsCache());
        CrateManifest manifest = CrateDescription.Manifest(
            Disk.Contents(Whole, intake),
            "KP010_crate_v001",
            1,
            DateTime.UnixEpoch,
            [],
            Guid.Empty,
            ""
        );
        Assert.NotEmpty(manifest.Passes);
        return manifest.Write();
    });

    private readonly TempFolder _folder = new();

    public static TheoryData<string> Changes() => JsonMutations.Changes();

    public void Dispose() => _folder.Dispose();

    [Theory]
    [MemberData(nameof(Changes))]
    public void A_changed_plan_is_refused_with_its_field_or_works(string change) =>
        JsonMutations.AllAreUsed(
            PlanDocument.Write(Whole),
            change,
            json =>
            {
                (Plan? plan, var problems) = PlanDocument.Read(json);
                if (plan is null || !problems.IsEmpty)
                {
                    Assert.NotEmpty(problems);
                    Assert.All(problems, p => Assert.Matches("^[^ ].*[.]$", p.Message));
                    Assert.All(problems, p => Assert.DoesNotMatch(JsonMutations.OfTheCode, p.Message));
                    return;
                }

                Assert.Equal(PlanDocument.Write(plan), PlanDocument.Write(PlanDocument.Read(PlanDocument.Write(plan)).Plan!));
                Assert.All(PlanRuleBook.Check(PlanContext.Create(plan)), f => Assert.NotEmpty(f.Message));
                Assert.True(PlanEstimate.Compute(plan).Bytes >= 0);
                Assert.NotEmpty(Disk.Check(_folder.Path, plan, FactsDepth.Pixels, new NoFactsCache()).Report.Write());
            }
        );

    [Theory]
    [MemberData(nameof(Changes))]
    public void A_changed_edit_is_refused_with_its_field_or_made(string change)
    {
        foreach (PlanEdit edit in EditSamples.OneOfEach.Where(e => e is not ReplacePlan))
        {
            JsonMutations.AllAreUsed(
                JsonSerializer.Serialize(edit, AnyJson.Options),
                change,
                json =>
                {
                    try
                    {
                        var read = PlanEdit.Read(json);
                        Plan after = read.Apply(EditSamples.Demo);
                        Assert.NotNull(read.Description);
                        Assert.NotEmpty(PlanDocument.Write(after));
                    }
                    catch (DocumentException e)
                    {
                        Assert.DoesNotMatch(JsonMutations.OfTheCode, DocumentJson.Problem(e));
                    }
                    catch (PlanEditException e)
                    {
                        Assert.DoesNotMatch(JsonMutations.OfTheCode, e.Message);
                    }
                }
            );
        }
    }

    [Theory]
    [MemberData(nameof(Changes))]
    public void A_changed_waiver_file_is_refused_or_waives(string change)
    {
        string whole = JsonSerializer.Serialize(
            new WaiverDocument([
                new Waiver
                {
                    Rule = "frames.missing",
                    Output = "sub/KP010_sub.####.exr",
                    Layer = "sub",
                    Pass = "beauty",
                    Frames = FrameSet.Parse("1001-1002"),
                    By = "Ada Reed",
                    Reason = "not seen",
                },
            ]),
            AnyJson.Options
        );
        CheckReport report = Disk.Check(_folder.Path, Whole, FactsDepth.Header, new NoFactsCache()).Report;
        JsonMutations.AllAreUsed(
            whole,
            change,
            json =>
            {
                string path = _folder["waive.json"];
                File.WriteAllText(path, json);
                try
                {
                    Assert.NotNull(report.With(WaiverDocument.ReadFile(Disk.File(path))).Write());
                }
                catch (FormatException e)
                {
                    Assert.Contains(path, e.Message);
                }
            }
        );
    }

    [Theory]
    [MemberData(nameof(Changes))]
    public void A_changed_manifest_is_refused_or_laid_out_as_a_slip(string change)
    {
        JsonMutations.AllAreUsed(
            Manifest.Value,
            change,
            json =>
            {
                try
                {
                    Assert.NotEmpty(PackingSlip.Write(CrateManifest.Read(json)));
                }
                catch (FormatException e)
                {
                    Assert.StartsWith("crate.json", e.Message);
                }
            }
        );
    }

    [Theory]
    [InlineData(
        """{ "show": { "code": "KELP" }, "shot": { "code": "KP010", "frames": "1001", "width": 64, "height": 36 }, "layers": [null] }""",
        "layers[0]"
    )]
    [InlineData(
        """
            { "show": { "code": "KELP" }, "shot": { "code": "KP010", "frames": "1001", "width": 64, "height": 36 },
            "layers": [{ "name": "sub", "outputs": [null] }] }
            """,
        "layers[0].outputs[0]"
    )]
    [InlineData(
        """
            { "show": { "code": "KELP" }, "shot": { "code": "KP010", "frames": "1001", "width": 64, "height": 36 },
            "layers": [{ "name": "sub", "changes": [null] }] }
            """,
        "layers[0].changes[0]"
    )]
    [InlineData("null", "")]
    public void An_empty_place_is_named(string json, string field)
    {
        (Plan? plan, var problems) = PlanDocument.Read(json);
        Assert.Null(plan);
        Assert.Equal(field, Assert.Single(problems).Field);
    }

    /// <summary>Fields of other versions may hold what they like.</summary>
    [Fact]
    public void Unknown_fields_keep_their_empty_places()
    {
        string json = PlanDocument
            .Write(Whole)
            .Replace("\"layers\":", "\"later\": [null, { \"a\": null }],\n  \"layers\":", StringComparison.Ordinal);
        Plan plan = PlanDocument.Read(json).Plan!;
        Assert.Contains("null", PlanDocument.Write(plan));
    }

    /// <summary>A small plan in which everything is said that a plan can say.</summary>
    internal static Plan WholePlan()
    {
        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1003"), 96, 54);
        plan = plan.Apply(
            new SetShot { Overscan = "8", Version = "v003" },
            new SetTestFrame(1002, 0.5),
            new SetLayer("kelp") { Group = "weeds" },
            new SetChanges("kelp", [new LayerChange("light off", "", ["lamps"], "night")]),
            new SetSettings(["kelp"], "samples", "64"),
            new WriteCells([new CellText("kelp", "depth", "float near=1 far=90 frames=1001-1002")])
        );
        return plan with
        {
            Layers = [.. plan.Layers.Where(l => l.Name is "kelp")],
            Show = plan.Show with
            {
                Machines = 4,
                Rules = new() { ["pixels.flicker"] = new RuleSetting { Severity = Severity.Note } },
            },
        };
    }
}

using System.Text.Json;
using DuneCrate.Checking.Comparing;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Handing;
using DuneCrate.Crates.Recipes;
using DuneCrate.Crates.Tests.Converting;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Failures;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging.Pictures.Notes;
using DuneCrate.Imaging.Stacking;

namespace DuneCrate.Crates.Tests.Documents;

/// <summary>
/// Documents whose types were worked out when the code was built. The serializer that asks the types by reflection is the reference: both
/// write the same bytes, and read every text alike or refuse it with the same words at the same place.
/// </summary>
public sealed class AheadTests
{
    [Fact]
    public void Facts_and_reports_have_the_same_bytes_either_way()
    {
        using var shot = new DriftShot();
        (IntakeResult intake, CheckReport report) = shot.Checked;
        var facts = new FactsDocument([.. intake.Facts.Values.OrderBy(f => f.Path, StringComparer.Ordinal)]);
        var asked = new JsonSerializerOptions(FactsDocument.Options) { TypeInfoResolver = AnyJson.Options.TypeInfoResolver };
        Assert.Equal(JsonSerializer.Serialize(facts, asked) + "\n", facts.Write());
        Assert.NotEmpty(report.Findings);
        Assert.Equal(JsonSerializer.Serialize(report, AnyJson.Options) + "\n", report.Write());
        Assert.Equal(facts.Write(), JsonSerializer.Deserialize<FactsDocument>(facts.Write(), FactsDocument.Options)!.Write());
    }

    [Theory]
    [MemberData(nameof(MutatedDocumentTests.Changes), MemberType = typeof(MutatedDocumentTests))]
    public void A_changed_plan_is_read_as_by_reflection(string change) =>
        JsonMutations.AllAreUsed(
            PlanDocument.Write(MutatedDocumentTests.WholePlan()),
            change,
            json => Same<Plan>(json, PlanDocument.Options)
        );

    [Theory]
    [InlineData("""{ "show": { "code": "KELP" }, "shot": { "code": "KP010", "frames": "1001-1010" } }""")]
    [InlineData("""{ "show": { "code": "KELP" }, "shot": { "code": "KP010" } }""")]
    [InlineData(
        """
            { "show": { "code": "KELP", "padding": 5 }, "shot": { "code": "A", "frames": "1" },
              "layers": [ { "name": "a", "outputs": [ { "template": "{layer}", "passes": [ { "pass": "beauty" } ] } ] } ] }
            """
    )]
    [InlineData("""{ "show": { "code": "KELP" }, "shot": { "code": "A", "frames": "1" }, "layers": null }""")]
    [InlineData("""{ "show": null, "shot": { "code": "A", "frames": "1" } }""")]
    [InlineData(
        """
            { "note": "kept", "show": { "code": "KELP", "colour": [1, { "a": null }] }, "shot": { "code": "A", "frames": "1" },
              "layers": [ { "name": "a", "later": 4 } ] }
            """
    )]
    [InlineData("{}")]
    [InlineData("[]")]
    [InlineData("null")]
    [InlineData("")]
    public void A_plan_is_read_as_by_reflection(string json) => Same<Plan>(json, PlanDocument.Options);

    [Theory]
    [MemberData(nameof(MutatedDocumentTests.Changes), MemberType = typeof(MutatedDocumentTests))]
    public void A_changed_report_is_read_as_by_reflection(string change)
    {
        var finding = new Finding
        {
            Rule = "frames.missing",
            Severity = Severity.Blocker,
            Output = "sub/KP010_sub.####.exr",
            Layer = "sub",
            Frames = FrameSet.Parse("1001-1004"),
            Expected = "24 frames",
            Found = "20 frames",
            Message = "Frames are missing.",
            Remedy = "Render them.",
            At = [3, 4],
            Follows = ["The sum is not there either."],
        };
        var report = new CheckReport
        {
            Root = "/renders/KP010",
            Depth = FactsDepth.Pixels,
            Sequences = [],
            Findings = [finding],
            Rerun = [new RerunEntry("sub", FrameSet.Parse("1001-1004"))],
            Summary = new CheckSummary(1, 0, 0, 20, 4000, 0.5),
        };
        JsonMutations.AllAreUsed(report.Write(), change, json => Same<CheckReport>(json, CheckReport.Options));
    }

    [Fact]
    public void Every_document_has_the_same_bytes_either_way()
    {
        HasSameBytes(WholeDocument.Of<CrateManifest>(), d => d.Write());
        HasSameBytes(WholeDocument.Of<CrateRecipe>(), d => d.Write());
        HasSameBytes(WholeDocument.Of<CrateReceipt>(), d => d.Write());
        HasSameBytes(WholeDocument.Of<ComparisonDocument>(), d => d.Write());
        HasSameBytes(WholeDocument.Of<StackRecipe>(), d => d.Write());
        HasSameBytes(WholeDocument.Of<ShowReport>(), d => d.Write());
        HasSameBytes(WholeDocument.Of<CheckReport>(), d => d.Write());
        HasSameBytes(WholeDocument.Of<Plan>(), d => JsonSerializer.Serialize(d, PlanDocument.Options) + "\n");
        NoteAnswer[] answers = [WholeDocument.Of<NoteAnswer>()];
        Assert.Equal(JsonSerializer.Serialize(answers, AnyJson.Options), NoteAnswer.Write([.. answers]));
        CrateEvent line = WholeDocument.Of<CrateEvent>();
        Assert.Equal(JsonSerializer.Serialize(line, AnyJson.Compact), line.Line);
        Assert.All(EditSamples.OneOfEach, edit => Assert.Equal(JsonSerializer.Serialize<PlanEdit>(edit, AnyJson.Compact), edit.Write()));
    }

    [Theory]
    [MemberData(nameof(MutatedDocumentTests.Changes), MemberType = typeof(MutatedDocumentTests))]
    public void Changed_documents_are_read_as_by_reflection(string change)
    {
        Hold<CrateManifest>(CrateJson.Ahead, change);
        Hold<CrateRecipe>(CrateJson.Ahead, change);
        Hold<CrateEvent>(CrateJson.Ahead, change);
        Hold<StackRecipe>(StackJson.Ahead, change);
        Hold<WaiverDocument>(WaiverJson.Ahead, change);
        Hold<NoteAnswer[]>(NoteJson.Ahead, change);
        foreach (PlanEdit edit in EditSamples.OneOfEach.Where(e => e is not ReplacePlan))
        {
            JsonMutations.AllAreUsed(edit.Write(), change, json => Same<PlanEdit>(json, EditJson.Ahead));
        }
    }

    private static void HasSameBytes<T>(T document, Func<T, string> write) =>
        Assert.Equal(JsonSerializer.Serialize(document, AnyJson.Options) + "\n", write(document));

    private static void Hold<T>(JsonSerializerOptions ahead, string change)
        where T : class =>
        JsonMutations.AllAreUsed(JsonSerializer.Serialize(WholeDocument.Of<T>(), AnyJson.Options), change, json => Same<T>(json, ahead));

    private static void Same<T>(string json, JsonSerializerOptions ahead)
        where T : class => Assert.Equal(Read<T>(json, AnyJson.Options), Read<T>(json, ahead));

    private static (string? Text, string? Refusal) Read<T>(string json, JsonSerializerOptions options)
        where T : class
    {
        try
        {
            return (JsonSerializer.Serialize(DocumentJson.Read<T>(json, options), AnyJson.Options), null);
        }
        catch (DocumentException e)
        {
            return (null, $"{e.Path} {DocumentJson.Problem(e)}");
        }
    }
}

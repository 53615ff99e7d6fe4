using System.Collections.Immutable;
using System.Text.Json.Nodes;
using DuneCrate.Imaging;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Planning.Tests;

public class PlanDocumentTests
{
    /// <summary>The example of the plan's contract, with fields of a later version in every object.</summary>
    private const string Example = """
        { "schema": "dune-crate.plan/1", "later": 1,
          "show":  { "code": "KELP", "name": "The Kelp Post", "later": 2 },
          "shot":  { "code": "KP010", "frames": "1001-1048", "frameRate": "24/1", "width": 640, "height": 360,
            "pixelAspectRatio": 1.0, "camera": "cam_main", "later": { "deep": [1, 2] } },
          "layers": [ { "name": "sub", "frames": "1001-1048", "alpha": "premultiplied", "later": "x",
            "rebuild": ["direct_diffuse", ["albedo", "irradiance"]],
            "outputs": [ { "template": "{layer}/{shot}_{layer}.{frame}.exr", "padding": 4, "compression": "zip", "later": null,
              "passes": [ { "pass": "beauty", "later": true, "channels": { "R": "half", "G": "half", "B": "half", "A": "half" } },
                { "pass": "depth", "channels": { "Z": "float" } }, { "pass": "albedo", "channels": { "albedo.R": "half",
                  "albedo.G": "half", "albedo.B": "half" } },
                { "pass": "irradiance", "channels": { "irradiance.R": "half", "irradiance.G": "half", "irradiance.B": "half" } },
                { "pass": "direct_diffuse", "channels": { "direct_diffuse.R": "half", "direct_diffuse.G": "half",
                  "direct_diffuse.B": "half" } } ] } ] } ] }
        """;

    [Fact]
    public void The_example_is_read()
    {
        (Plan? plan, ImmutableArray<PlanProblem> problems) = PlanDocument.Read(Example);
        Assert.Empty(problems);
        Assert.Equal("1001-1048", plan!.Shot.Frames.ToString());
        Assert.Equal(AlphaMode.Premultiplied, plan.Layers[0].Alpha);
        Assert.Equal(["direct_diffuse", "albedo × irradiance"], plan.Layers[0].Rebuild.Select(t => t.ToString()));
        Assert.Equal(["R", "G", "B", "A"], plan.Layers[0].Outputs[0].Passes[0].Channels.Keys);
        PlannedOutput output = Assert.Single(PlannedOutput.From(plan));
        Assert.Equal("sub/KP010_sub.####.exr", output.Key);
        Assert.Equal("sub/KP010_sub.1002.exr", output.Name.At(1002));
    }

    [Fact]
    public void Unknown_fields_are_written_again()
    {
        JsonNode before = JsonNode.Parse(Example)!,
            after = JsonNode.Parse(PlanDocument.Write(PlanDocument.Read(Example).Plan!))!;
        Assert.True(JsonNode.DeepEquals(before, after), after.ToJsonString());
    }

    [Theory]
    [MemberData(nameof(TypeNames))]
    public void Types_are_written_by_their_names(string type)
    {
        string json = Example.Replace("\"Z\": \"float\"", $"\"Z\": \"{type}\"");
        Assert.Contains($"\"Z\": \"{type}\"", PlanDocument.Write(PlanDocument.Read(json).Plan!));
    }

    public static TheoryData<string> TypeNames() => [.. ChannelTypes.All];

    [Fact]
    public void Reading_what_was_written_changes_nothing()
    {
        string written = PlanDocument.Write(StandInPlan.Create("KP010", FrameSet.Parse("1001-1024")));
        Assert.Equal(written, PlanDocument.Write(PlanDocument.Read(written).Plan!));
    }

    [Theory]
    [InlineData("", "", "line")]
    [InlineData("[]", "", "")]
    [InlineData(
        "{\"schema\":\"dune-crate.plan/9\",\"show\":{\"code\":\"A\"},\"shot\":{\"code\":\"B\",\"frames\":\"1\"}}",
        "schema",
        "dune-crate.plan/9"
    )]
    [InlineData(
        "{\"schema\":\"dune-crate.plan/1\",\"show\":{\"code\":\"A\"},\"shot\":{\"code\":\"B\",\"frames\":\"9-1\"}}",
        "shot.frames",
        "runs backwards"
    )]
    [InlineData("{\"schema\":\"dune-crate.plan/1\",\"show\":{\"code\":\"A\"}}", "", "shot")]
    public void What_is_no_plan_is_refused_with_the_reason(string json, string field, string part)
    {
        (Plan? plan, ImmutableArray<PlanProblem> problems) = PlanDocument.Read(json);
        Assert.Null(plan);
        PlanProblem problem = Assert.Single(problems);
        Assert.Equal(field, problem.Field);
        Assert.Contains(part, problem.Message, StringComparison.OrdinalIgnoreCase);
    }

    [Theory]
    [InlineData("\"pass\": \"depth\"", "\"pass\": \"dpeth\"", "layers[0].outputs[0].passes[1].pass", "nearest is depth")]
    [InlineData("{layer}/{shot}_{layer}.{frame}.exr", "{layer}/{shot}_{layer}.exr", "layers[0].outputs[0].template", "no {frame}")]
    [InlineData("{layer}/{shot}_{layer}.{frame}.exr", "../{shot}.{frame}.exr", "layers[0].outputs[0].template", "below the output folder")]
    [InlineData("\"padding\": 4", "\"padding\": 3", "layers[0].outputs[0].padding", "needs 4 digits")]
    [InlineData("\"compression\": \"zip\"", "\"compression\": \"zipp\"", "layers[0].outputs[0].compression", "is not a compression")]
    [InlineData("\"name\": \"sub\"", "\"name\": \"su b\"", "layers[0].name", "letters, digits")]
    [InlineData(
        "\"frames\": \"1001-1048\", \"frameRate\"",
        "\"frames\": \"1-1000001\", \"frameRate\"",
        "shot.frames",
        "look for a digit too many"
    )]
    [InlineData("\"width\": 640", "\"width\": 0", "shot.width", "width must be")]
    [InlineData(
        "\"frames\": \"1001-1048\", \"alpha\"",
        "\"frames\": \"1001-1050\", \"alpha\"",
        "layers[0].frames",
        "1049-1050 lie outside"
    )]
    [InlineData("\"rebuild\": [\"direct_diffuse\"", "\"rebuild\": [\"emission\"", "layers[0].rebuild", "does not put out")]
    [InlineData("\"Z\": \"float\"", "\"R\": \"float\"", "layers[0].outputs[0].passes", "use the channel R")]
    public void Problems_stand_at_their_field(string from, string to, string field, string part)
    {
        (_, ImmutableArray<PlanProblem> problems) = PlanDocument.Read(Example.Replace(from, to));
        Assert.Contains(problems, p => p.Field == field && p.Message.Contains(part));
    }

    [Fact]
    public void A_wrong_type_is_named_with_the_types_there_are()
    {
        (_, ImmutableArray<PlanProblem> problems) = PlanDocument.Read(Example.Replace("\"Z\": \"float\"", "\"Z\": \"double\""));
        Assert.Contains("'double' is not a channel type; use uint8, uint16, half, uint, float", problems[0].Message);
    }

    [Fact]
    public void Two_outputs_on_one_path_collide()
    {
        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1010"));
        Plan clash = plan with
        {
            Layers = [.. plan.Layers.Select(l => l with { Outputs = [l.Outputs[0] with { Template = "{shot}.{frame}.exr" }] })],
        };
        Assert.Contains(PlanValidation.Check(clash), p => p.Message.Contains("Two outputs write KP010.####.exr"));
    }

    [Fact]
    public void Layers_that_differ_in_case_only_are_refused()
    {
        Plan plan = StandInPlan.Create("KP010", FrameSet.Single(1001));
        Assert.Contains(
            PlanValidation.Check(plan with { Layers = [plan.Layers[0], plan.Layers[0] with { Name = "SUB" }] }),
            p => p.Field == "layers[1].name"
        );
    }

    [Fact]
    public void A_template_with_pass_makes_one_output_per_pass()
    {
        string[] keys =
        [
            .. PlannedOutput
                .From(StandInPlan.Create("KP010", FrameSet.Parse("1001-1002")))
                .Where(o => o.Layer.Name == "sub")
                .Select(o => o.Key),
        ];
        Assert.Contains("sub_ao/KP010_sub_ao.####.exr", keys);
        Assert.Contains("sub_cryptomatte_object/KP010_sub_cryptomatte_object.####.exr", keys);
    }

    [Fact]
    public void A_range_of_its_own_goes_before_the_parents()
    {
        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1010"));
        LayerPlan layer = plan.Layers[0] with
        {
            Frames = FrameSet.Parse("1003-1005"),
            Outputs = [plan.Layers[0].Outputs[0], plan.Layers[0].Outputs[1] with { Frames = FrameSet.Single(1004) }],
        };
        var outputs = PlannedOutput.From(plan with { Layers = [layer] });
        Assert.Equal(["1003-1005", "1004"], outputs.Select(o => o.Frames.ToString()));
        Assert.True(outputs[1].IsStill);
    }
}

using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;

namespace DuneCrate.Checking.Tests.Outside;

/// <summary>A sum whose passes lie in files of their own and all call their channels R G B, also in the plan.</summary>
public sealed class SplitSumTests : IDisposable
{
    private const string Range = "1001-1003";

    private readonly TempFolder _folder = new();

    private static readonly Plan Planned = PlanDocument
        .Read(
            """
            { "schema": "dune-crate.plan/1", "show": { "code": "KELP" },
              "shot": { "code": "KP040", "frames": "1001-1003", "frameRate": "24/1", "width": 64, "height": 36, "camera": "" },
              "layers": [ { "name": "sea", "rebuild": ["diffuse", "specular"], "outputs": [
                { "template": "sea_{pass}.{frame}.exr", "passes": [
                  { "pass": "beauty", "channels": { "R": "half", "G": "half", "B": "half" } },
                  { "pass": "diffuse", "channels": { "R": "half", "G": "half", "B": "half" } },
                  { "pass": "specular", "channels": { "R": "half", "G": "half", "B": "half" } } ] } ] } ] }
            """
        )
        .Plan!;

    [Theory]
    [InlineData(1.0, "")]
    [InlineData(0.7, "rebuild.residual 1001-1003")]
    public void Passes_that_share_names_of_channels_are_summed_each_from_its_own_file(double gain, string found)
    {
        string[] diffuse = ["--create", "64x36", "3", "--noise:type=uniform:min=0.2:max=0.6:seed={FRAME_NUMBER}", "--label", "d"],
            specular = ["--create", "64x36", "3", "--noise:type=uniform:min=0:max=0.3:seed={FRAME_NUMBER+50}", "--label", "s"];
        Tool.Oiio([
            "--frames",
            Range,
            .. diffuse,
            .. specular,
            "-d",
            "half",
            "d",
            "s",
            "--add",
            "-o",
            _folder["sea_beauty.%04d.exr"],
            "d",
            "-o",
            _folder["sea_diffuse.%04d.exr"],
            "s",
            "--mulc",
            FormattableString.Invariant($"{gain}"),
            "-o",
            _folder["sea_specular.%04d.exr"],
        ]);
        CheckReport report = Disk.Check(_folder.Path, Planned, FactsDepth.Pixels, new NoFactsCache()).Report;
        Assert.Equal(
            found,
            string.Join(' ', report.Findings.Where(f => f.Rule.StartsWith("rebuild.", StringComparison.Ordinal)).Select(Text))
        );
    }

    public void Dispose() => _folder.Dispose();

    private static string Text(Finding finding) => $"{finding.Rule} {finding.Frames}";
}

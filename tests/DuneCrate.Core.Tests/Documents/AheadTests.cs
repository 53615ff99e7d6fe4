using System.Text.Json;
using DuneCrate.Core.Checks.Reports;
using DuneCrate.Core.Documents;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Tests.Crates.Converting;

namespace DuneCrate.Core.Tests.Documents;

/// <summary>Documents whose types were worked out when the code was built have the bytes that asking the types gives.</summary>
public class AheadTests
{
    [Fact]
    public void Facts_and_reports_have_the_same_bytes_either_way()
    {
        using var shot = new DriftShot();
        (IntakeResult intake, CheckReport report) = shot.Checked;
        var facts = new FactsDocument([.. intake.Facts.Values.OrderBy(f => f.Path, StringComparer.Ordinal)]);
        var asked = new JsonSerializerOptions(FactsDocument.Options) { TypeInfoResolver = DocumentJson.Options.TypeInfoResolver };
        Assert.Equal(JsonSerializer.Serialize(facts, asked) + "\n", facts.Write());
        Assert.NotEmpty(report.Findings);
        Assert.Equal(JsonSerializer.Serialize(report, DocumentJson.Options) + "\n", report.Write());
        Assert.Equal(facts.Write(), JsonSerializer.Deserialize<FactsDocument>(facts.Write(), FactsDocument.Options)!.Write());
    }
}

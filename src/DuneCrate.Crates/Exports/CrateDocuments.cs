using System.Text.Json.Serialization;
using DuneCrate.Checking.Reports;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates.Exports;

/// <summary>
/// Documents that lie in a crate beside its pictures, for programs that do not read crate.json. None of them names a path outside it. To
/// add one, name it in <see cref="All"/>.
/// </summary>
public sealed record CrateDocuments
{
    /// <summary>The passes as a table.</summary>
    public string Table { get; init; } = "passes.csv";

    /// <summary>An OpenTimelineIO file: a track per layer, an image sequence per pass.</summary>
    public string Timeline { get; init; } = "timeline.otio";

    /// <summary>What happened to it up to its sealing, as JSON lines; null in crates of earlier versions.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? History { get; init; }

    /// <summary>The test composite at the lead frame as OpenRaster, every strip a layer; null without one.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Lead { get; init; }

    /// <summary>Scene helpers as glTF 2.0; null without any.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Helpers { get; init; }

    /// <summary>Scene helpers as a table, a line for each and frame; null without any.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? HelperTable { get; init; }

    /// <summary>The plan that it was rendered to.</summary>
    public string Plan { get; init; } = "plan.json";

    /// <summary>The check that it rests on.</summary>
    public string Report { get; init; } = "report.json";

    /// <summary>The documents of a crate with their texts.</summary>
    internal IEnumerable<(string File, string Text)> All(CrateManifest manifest, Plan plan, CheckReport report)
    {
        yield return (Table, PassTable.Write(manifest));
        yield return (Timeline, OpenTimeline.Write(manifest));
        yield return (Plan, PlanDocument.Write(plan));
        yield return (Report, (report with { Root = "" }).Write());
    }
}

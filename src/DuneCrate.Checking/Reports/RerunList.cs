using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>
/// The document <c>dune-crate.rerun/1</c>: frames that must be rendered again, per layer, cut into the portions that a farm gives to one
/// machine.
/// </summary>
/// <param name="Shot">Code of the shot, or null.</param>
/// <param name="Chunk">Most frames of one portion; 0 for whole layers.</param>
/// <param name="Portions">The portions, by layer and first frame.</param>
public sealed record RerunList(string? Shot, int Chunk, ImmutableArray<RerunPortion> Portions)
{
    /// <summary>The document's schema name.</summary>
    public const string SchemaName = "dune-crate.rerun/1";

    private static readonly JsonSerializerOptions Options = DocumentJson.Ahead(ReportJson.Default);

    /// <summary>Always <see cref="SchemaName"/>.</summary>
    [JsonPropertyOrder(-1)]
    public string Schema => SchemaName;

    /// <summary>The list of a report.</summary>
    /// <param name="report">The report.</param>
    /// <param name="chunk">Most frames of one portion; 0 for whole layers.</param>
    /// <param name="shot">Code of the shot, or null.</param>
    public static RerunList From(CheckReport report, int chunk, string? shot) =>
        new(shot, chunk, [.. report.Rerun.SelectMany(r => Cut(r.Frames, chunk).Select(f => new RerunPortion(r.Layer, f, f.LongCount)))]);

    /// <summary>The list as a document.</summary>
    public string Write() => JsonSerializer.Serialize(this, Options.Of<RerunList>()) + "\n";

    /// <summary>The list as plain text: a line per portion, layer and frames with a space between.</summary>
    public string WriteText() => string.Concat(Portions.Select(p => $"{p.Layer} {p.Frames}\n"));

    private static IEnumerable<FrameSet> Cut(FrameSet frames, int chunk) =>
        chunk <= 0 ? [frames] : frames.Chunk(chunk).Select(FrameSet.From);
}

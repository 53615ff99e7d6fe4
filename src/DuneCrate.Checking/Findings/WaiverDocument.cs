using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Failures;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Checking.Findings;

/// <summary>The document <c>dune-crate.waivers/1</c>.</summary>
public sealed record WaiverDocument(ImmutableArray<Waiver> Waivers)
{
    /// <summary>The document's schema name.</summary>
    public const string SchemaName = "dune-crate.waivers/1";

    /// <summary>Always <see cref="SchemaName"/>.</summary>
    [JsonPropertyOrder(-1)]
    public string Schema { get; init; } = SchemaName;

    private const long MostBytes = 16L << 20;

    /// <summary>Reads a waiver file.</summary>
    /// <exception cref="FormatException">It is no such document, or a waiver lacks a name or a reason.</exception>
    public static ImmutableArray<Waiver> ReadFile(StoragePath path)
    {
        try
        {
            var document = DocumentJson.Read<WaiverDocument>(path.ReadText(MostBytes), WaiverJson.Ahead);
            return document.Schema == SchemaName && document.Waivers.All(w => w.By.Trim().Length > 0 && w.Reason.Trim().Length > 0)
                ? [.. document.Waivers.Select(w => w with { Pass = FormerKeys.Today(w.Pass) })]
                : throw new FormatException($"{path} is no {SchemaName} document, or a waiver in it lacks by or reason.");
        }
        catch (DocumentException e)
        {
            throw new FormatException($"{path} is no {SchemaName} document. {DocumentJson.Problem(e)}", e);
        }
    }
}

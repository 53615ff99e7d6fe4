using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Checking.Comparing;

/// <summary>The document <c>dune-crate.comparison/1</c>: how far two files or folders are apart.</summary>
/// <param name="Tolerance">What counts as equal.</param>
/// <param name="Equal">Whether everything is there on both sides and equal.</param>
/// <param name="OnlyA">Paths that only the first has.</param>
/// <param name="OnlyB">Paths that only the second has.</param>
/// <param name="Files">The files that stand for each other, by path.</param>
public sealed record ComparisonDocument(
    double Tolerance,
    bool Equal,
    ImmutableArray<string> OnlyA,
    ImmutableArray<string> OnlyB,
    ImmutableArray<FileDifference> Files
)
{
    /// <summary>The document's schema name.</summary>
    public const string SchemaName = "dune-crate.comparison/1";

    /// <summary>Always <see cref="SchemaName"/>.</summary>
    [JsonPropertyOrder(-1)]
    public string Schema { get; init; } = SchemaName;

    /// <summary>The document's text.</summary>
    public string Write() => JsonSerializer.Serialize(this, ComparisonJson.Ahead.Of<ComparisonDocument>()) + "\n";
}

using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Storage;

namespace DuneCrate.Core.Checks;

/// <summary>A finding that a named person accepts, with a reason. Output, layer, pass and frames narrow it down when given.</summary>
public sealed record Waiver
{
    /// <summary>The rule's id.</summary>
    public required string Rule { get; init; }

    /// <summary>The output, or null for any.</summary>
    public string? Output { get; init; }

    /// <summary>The layer, or null for any.</summary>
    public string? Layer { get; init; }

    /// <summary>The pass, or null for any.</summary>
    public string? Pass { get; init; }

    /// <summary>Frames that are accepted, or null for any. A finding with frames beyond them is not waived.</summary>
    public FrameSet? Frames { get; init; }

    /// <summary>Who accepts it.</summary>
    public required string By { get; init; }

    /// <summary>Why.</summary>
    public required string Reason { get; init; }

    /// <summary>Whether a finding is the one meant, or among those meant.</summary>
    public bool Covers(Finding finding) =>
        finding.Rule == Rule
        && (Output is null || Output == finding.Output)
        && (Layer is null || Layer == finding.Layer)
        && (Pass is null || Pass == finding.Pass)
        && (Frames is null || finding.Frames.Except(Frames).IsEmpty);
}

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
            var document = DocumentJson.Read<WaiverDocument>(path.ReadText(MostBytes));
            return document.Schema == SchemaName && document.Waivers.All(w => w.By.Trim().Length > 0 && w.Reason.Trim().Length > 0)
                ? document.Waivers
                : throw new FormatException($"{path} is no {SchemaName} document, or a waiver in it lacks by or reason.");
        }
        catch (JsonException e)
        {
            throw new FormatException($"{path} is no {SchemaName} document: {e.Message}", e);
        }
    }
}

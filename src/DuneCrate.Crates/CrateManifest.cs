using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Checking.Findings;
using DuneCrate.Crates.Deltas;
using DuneCrate.Crates.Exports;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Failures;
using DuneCrate.Foundation.Frames;
using DuneCrate.Imaging.Pictures.Notes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates;

/// <summary>The document <c>dune-crate.crate/1</c>: what a crate holds and how to use it. Names no path outside the crate.</summary>
public sealed record CrateManifest
{
    /// <summary>The document's schema name.</summary>
    public const string SchemaName = "dune-crate.crate/1";

    /// <summary>Name of its file.</summary>
    public const string FileName = "crate.json";

    /// <summary>Bytes that it may have.</summary>
    public const long MostBytes = 64L << 20;

    /// <summary>Always <see cref="SchemaName"/>.</summary>
    public required string Schema { get; init; }

    /// <summary>Name of the crate's folder.</summary>
    public required string Name { get; init; }

    /// <summary>Version, from 1.</summary>
    public required int Version { get; init; }

    /// <summary>When it was sealed, UTC.</summary>
    public required DateTime Sealed { get; init; }

    /// <summary>A word of its own, so that whoever asked for the crate knows it again.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Id { get; init; }

    /// <summary>
    /// SHA-256 of the lines of SHA256SUMS that are not about crate.json, slip.html and the signature: ties the list of checksums to this
    /// document. Null in
    /// crates of earlier versions.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Contents { get; init; }

    /// <summary>SHA-256 of slip.html; null in crates of earlier versions.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Slip { get; init; }

    /// <summary>Name of the person who sealed it, or null when nobody said.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? SealedBy { get; init; }

    /// <summary>Fingerprint of the key that it is signed with; null when it is not signed.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? SignedWith { get; init; }

    /// <summary>Who gets it; null when nobody is named.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Receiver { get; init; }

    /// <summary>What its receiver wanted; null when files went in as they were.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public CrateRecipe? Recipe { get; init; }

    /// <summary>The crate that it follows and what is new since then; null when it follows none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public CrateOnto? Onto { get; init; }

    /// <summary>The show.</summary>
    public required ShowPlan Show { get; init; }

    /// <summary>Code of the shot.</summary>
    public required string Shot { get; init; }

    /// <summary>Frames of the shot.</summary>
    public required FrameSet Frames { get; init; }

    /// <summary>
    /// What was added to the numbers of frames as they were rendered. Findings speak of frames as they were rendered, everything else here
    /// of those in the crate.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int FrameShift { get; init; }

    /// <summary>Frame rate.</summary>
    public required FrameRate FrameRate { get; init; }

    /// <summary>Width in pixels.</summary>
    public required int Width { get; init; }

    /// <summary>Height in pixels.</summary>
    public required int Height { get; init; }

    /// <summary>Overscan: pixels beyond the picture on every side.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int Overscan { get; init; }

    /// <summary>Width of a pixel over its height.</summary>
    public required double PixelAspectRatio { get; init; }

    /// <summary>The passes, in the order of the stack from the bottom, then those that are not stacked.</summary>
    public required ImmutableArray<CratePass> Passes { get; init; }

    /// <summary>Findings that somebody accepted.</summary>
    public ImmutableArray<Finding> Waived { get; init; } = [];

    /// <summary>Scene helpers; null when there are none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<CrateHelper>? Helpers { get; init; }

    /// <summary>Notes on pictures, open and settled; null when there are none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<PictureNote>? Notes { get; init; }

    /// <summary>Test composites, with the documents in the crate; null when there are none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<CrateStack>? Stacks { get; init; }

    /// <summary>Documents in the crate for other programs; null in crates of earlier versions.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public CrateDocuments? Documents { get; init; }

    /// <summary>The plan's schema and text are not carried; how the layers rebuild is.</summary>
    public ImmutableArray<CrateRebuild> Rebuild { get; init; } = [];

    /// <summary>The document's text.</summary>
    public string Write() => JsonSerializer.Serialize(this, CrateJson.Ahead.Of<CrateManifest>()) + "\n";

    /// <summary>Reads a manifest.</summary>
    /// <exception cref="FormatException">The text is no manifest of this schema.</exception>
    public static CrateManifest Read(string json)
    {
        try
        {
            var manifest = DocumentJson.Read<CrateManifest>(json, CrateJson.Ahead);
            return manifest.Schema == SchemaName ? manifest : throw new FormatException($"crate.json is no {SchemaName} document.");
        }
        catch (DocumentException e)
        {
            throw new FormatException($"crate.json cannot be read. {DocumentJson.Problem(e)}", e);
        }
    }
}

using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Planning;

/// <summary>
/// The pass sheet of one shot: the document <c>dune-crate.plan/1</c>. Immutable; fields that this version does not know are kept
/// in <c>Extra</c> and written again.
/// </summary>
public sealed record Plan
{
    /// <summary>The document's schema name.</summary>
    public const string SchemaName = "dune-crate.plan/1";

    /// <summary>Always <see cref="SchemaName"/>.</summary>
    public string Schema { get; init; } = SchemaName;

    /// <summary>The show.</summary>
    public required ShowPlan Show { get; init; }

    /// <summary>The shot.</summary>
    public required ShotPlan Shot { get; init; }

    /// <summary>Render layers, in the order of the ladder.</summary>
    public ImmutableArray<LayerPlan> Layers { get; init; } = [];

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}

/// <summary>The show a plan belongs to.</summary>
public sealed record ShowPlan
{
    /// <summary>Short code, used in paths.</summary>
    public required string Code { get; init; }

    /// <summary>Name for people.</summary>
    public string Name { get; init; } = "";

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}

/// <summary>What holds for the whole shot.</summary>
public sealed record ShotPlan
{
    /// <summary>Short code, used in paths.</summary>
    public required string Code { get; init; }

    /// <summary>Frames that layers without their own range have.</summary>
    public required FrameSet Frames { get; init; }

    /// <summary>Frame rate.</summary>
    public FrameRate FrameRate { get; init; } = new(24, 1);

    /// <summary>Display window width in pixels.</summary>
    public int Width { get; init; }

    /// <summary>Display window height in pixels.</summary>
    public int Height { get; init; }

    /// <summary>Width of a pixel over its height.</summary>
    public double PixelAspectRatio { get; init; } = 1;

    /// <summary>Render camera; empty when the plan names none.</summary>
    public string Camera { get; init; } = "";

    /// <summary>Version token, such as v001; empty when names carry none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Version { get; init; }

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}

/// <summary>One render layer.</summary>
public sealed record LayerPlan
{
    /// <summary>Name, used in paths.</summary>
    public required string Name { get; init; }

    /// <summary>Frames, when they differ from the shot's.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public FrameSet? Frames { get; init; }

    /// <summary>How the beauty's alpha is to be read.</summary>
    public AlphaMode Alpha { get; init; }

    /// <summary>The light passes that must sum to the beauty; empty when none do.</summary>
    public ImmutableArray<RebuildTerm> Rebuild { get; init; } = [];

    /// <summary>Files that the layer puts out.</summary>
    public ImmutableArray<OutputPlan> Outputs { get; init; } = [];

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}

/// <summary>One sequence of files, or with <c>{pass}</c> in the template one sequence per pass.</summary>
public sealed record OutputPlan
{
    /// <summary>Name template.</summary>
    public required string Template { get; init; }

    /// <summary>Digits of frame numbers.</summary>
    public int Padding { get; init; } = 4;

    /// <summary>Compression name as in OpenEXR, lower case.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Compression { get; init; }

    /// <summary>Frames, when they differ from the layer's.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public FrameSet? Frames { get; init; }

    /// <summary>Passes in the files.</summary>
    public ImmutableArray<PassPlan> Passes { get; init; } = [];

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}

/// <summary>One pass and the channels it is stored in.</summary>
public sealed record PassPlan
{
    /// <summary>Key in the catalogue.</summary>
    public required string Pass { get; init; }

    /// <summary>Channel names with their types, in the order shown.</summary>
    public OrderedDictionary<string, ChannelType> Channels { get; init; } = [];

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}

/// <summary>How colour relates to alpha.</summary>
public enum AlphaMode
{
    /// <summary>No alpha, or one that is not to be used.</summary>
    None,

    /// <summary>Colour is not multiplied by alpha.</summary>
    Straight,

    /// <summary>Colour is multiplied by alpha.</summary>
    Premultiplied,
}

/// <summary>One addend of the rebuild: a pass, or the product of two (albedo × irradiance). Written as a text or an array of texts.</summary>
[JsonConverter(typeof(RebuildTermJsonConverter))]
public readonly record struct RebuildTerm
{
    /// <summary>A term of the given factors.</summary>
    public RebuildTerm(params ImmutableArray<string> factors) => Factors = factors;

    /// <summary>Pass keys that are multiplied; one for a plain pass.</summary>
    public ImmutableArray<string> Factors { get; }

    /// <summary>The form for people: <c>albedo × irradiance</c>.</summary>
    public override string ToString() => string.Join(" × ", Factors);

    /// <summary>Equal when the factors are, in order.</summary>
    public bool Equals(RebuildTerm other) => Factors.AsSpan().SequenceEqual(other.Factors.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => string.Join('×', Factors).GetHashCode(StringComparison.Ordinal);
}

/// <summary>Reads and writes a rebuild term.</summary>
public sealed class RebuildTermJsonConverter : JsonConverter<RebuildTerm>
{
    /// <inheritdoc/>
    public override RebuildTerm Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        string[]? factors = reader.TokenType == JsonTokenType.String ? [reader.GetString()!] : JsonSerializer.Deserialize<string[]>(ref reader, options);
        return factors is { Length: 1 or 2 } && !factors.Contains(null) ? new RebuildTerm([.. factors]) : throw new JsonException("A rebuild term is the name of a pass, or an array of two names.");
    }

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, RebuildTerm value, JsonSerializerOptions options)
    {
        if (value.Factors.Length == 1)
        {
            writer.WriteStringValue(value.Factors[0]);
        }
        else
        {
            JsonSerializer.Serialize(writer, value.Factors, options);
        }
    }
}

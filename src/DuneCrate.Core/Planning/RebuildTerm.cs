using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace DuneCrate.Core.Planning;

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
        string[]? factors =
            reader.TokenType == JsonTokenType.String ? [reader.GetString()!] : JsonSerializer.Deserialize<string[]>(ref reader, options);
        return factors is { Length: 1 or 2 } && !factors.Contains(null)
            ? new RebuildTerm([.. factors])
            : throw new JsonException("A rebuild term is the name of a pass, or an array of two names.");
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

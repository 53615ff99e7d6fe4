using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Failures;

namespace DuneCrate.Planning.Model;

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
            : throw new DocumentException("A rebuild term is the name of a pass, or an array of two names.");
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

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
        List<string?> factors = [];
        if (reader.TokenType == JsonTokenType.StartArray)
        {
            while (reader.Read() && reader.TokenType != JsonTokenType.EndArray)
            {
                factors.Add(reader.GetString());
            }
        }
        else
        {
            factors.Add(reader.GetString());
        }

        return factors is { Count: 1 or 2 } && !factors.Contains(null)
            ? new RebuildTerm([.. factors.OfType<string>()])
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
            writer.WriteStartArray();
            foreach (string factor in value.Factors)
            {
                writer.WriteStringValue(factor);
            }

            writer.WriteEndArray();
        }
    }
}

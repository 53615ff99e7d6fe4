using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Failures;

namespace DuneCrate.Foundation.Passes;

/// <summary>Writes a channel type by its name in documents.</summary>
public sealed class ChannelTypeJsonConverter : JsonConverter<ChannelType>
{
    /// <inheritdoc/>
    public override ChannelType Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        ChannelTypes.Find(reader.GetString())
        ?? throw new DocumentException($"'{reader.GetString()}' is not a channel type; use {string.Join(", ", ChannelTypes.All)}.");

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, ChannelType value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.Name());
}

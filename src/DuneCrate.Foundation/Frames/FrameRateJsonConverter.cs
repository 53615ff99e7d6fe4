using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Failures;

namespace DuneCrate.Foundation.Frames;

/// <summary>Writes a frame rate as <c>24/1</c> and reads every form that <see cref="FrameRate.TryParse"/> takes.</summary>
public sealed class FrameRateJsonConverter : JsonConverter<FrameRate>
{
    /// <inheritdoc/>
    public override FrameRate Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        FrameRate.TryParse(reader.GetString(), out FrameRate rate, out string? problem) ? rate : throw new DocumentException(problem);

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, FrameRate value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.ToString());
}

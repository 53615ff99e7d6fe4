using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Failures;

namespace DuneCrate.Foundation.Frames;

/// <summary>Writes a frame set as its text form and reads it back.</summary>
public sealed class FrameSetJsonConverter : JsonConverter<FrameSet>
{
    /// <inheritdoc/>
    public override FrameSet Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        FrameSet.TryParse(reader.GetString(), out FrameSet? set, out string? problem) ? set : throw new DocumentException(problem);

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, FrameSet value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.ToString());
}

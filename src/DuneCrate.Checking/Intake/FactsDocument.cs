using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Exr;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Failures;
using DuneCrate.Foundation.Json;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake;

/// <summary>The document <c>dune-crate.facts/1</c>.</summary>
public sealed record FactsDocument(ImmutableArray<FileFacts> Files)
{
    /// <summary>The document's schema name.</summary>
    public const string SchemaName = "dune-crate.facts/1";

    /// <summary>Options for facts: windows as arrays of four numbers, statistics beside the channel's name.</summary>
    public static readonly JsonSerializerOptions Options = MakeOptions(DocumentJson.Form);

    /// <summary>The same without line breaks, for storage.</summary>
    public static readonly JsonSerializerOptions Compact = MakeOptions(DocumentJson.CompactForm);

    /// <summary>Always <see cref="SchemaName"/>.</summary>
    [JsonPropertyOrder(-1)]
    public string Schema => SchemaName;

    /// <summary>The document's text. A file whose facts cannot be written has a problem that says so, and holds up no other.</summary>
    public string Write()
    {
        try
        {
            return JsonSerializer.Serialize(this, Options.Of<FactsDocument>()) + "\n";
        }
        catch (ArgumentException)
        {
            return JsonSerializer.Serialize(this with { Files = [.. Files.Select(Writable)] }, Options.Of<FactsDocument>()) + "\n";
        }
    }

    private static FileFacts Writable(FileFacts facts)
    {
        try
        {
            JsonSerializer.SerializeToUtf8Bytes(facts, Compact.Of<FileFacts>());
            return facts;
        }
        catch (ArgumentException)
        {
            return new FileFacts
            {
                Path = facts.Path,
                Format = facts.Format,
                Bytes = facts.Bytes,
                Modified = facts.Modified,
                Problem = "what was measured of it holds a number that no document can write",
                Trouble = ImageProblem.Header,
            };
        }
    }

    private static JsonSerializerOptions MakeOptions(JsonSerializerOptions from) =>
        new(DocumentJson.Ahead(FactsJson.Default, from))
        {
            Converters = { new PixelBoxJsonConverter(), new ChannelFactsJsonConverter(), new EnumNames<ImageProblem>() },
        };

    /// <summary>Writes a box as [minX, minY, maxX, maxY].</summary>
    private sealed class PixelBoxJsonConverter : JsonConverter<PixelBox>
    {
        public override PixelBox Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            int[]? v = JsonSerializer.Deserialize(ref reader, options.Of<int[]>());
            return v is { Length: 4 }
                ? new PixelBox(v[0], v[1], v[2], v[3])
                : throw new DocumentException("A window is an array of four whole numbers.");
        }

        public override void Write(Utf8JsonWriter writer, PixelBox value, JsonSerializerOptions options)
        {
            writer.WriteStartArray();
            foreach (int corner in (ReadOnlySpan<int>)[value.MinX, value.MinY, value.MaxX, value.MaxY])
            {
                writer.WriteNumberValue(corner);
            }

            writer.WriteEndArray();
        }
    }

    /// <summary>Writes the statistics as fields of the channel itself, null without pixels.</summary>
    private sealed class ChannelFactsJsonConverter : JsonConverter<ChannelFacts>
    {
        public override ChannelFacts Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            if (reader.TokenType != JsonTokenType.StartObject)
            {
                throw new DocumentException("A channel is an object.");
            }

            // The statistics are read from the same object once more, if it has any.
            Utf8JsonReader again = reader;
            (string? name, string? pass, ChannelType? type, bool isRead) = (null, null, null, false);
            while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
            {
                if (reader.ValueTextEquals("name"u8))
                {
                    reader.Read();
                    name = reader.GetString();
                }
                else if (reader.ValueTextEquals("pass"u8))
                {
                    reader.Read();
                    pass = reader.GetString();
                }
                else if (reader.ValueTextEquals("type"u8))
                {
                    reader.Read();
                    type = JsonSerializer.Deserialize(ref reader, options.Of<ChannelType>());
                }
                else
                {
                    bool isPixels = reader.ValueTextEquals("pixels"u8);
                    reader.Read();
                    isRead |= isPixels && reader.TokenType != JsonTokenType.Null;
                    reader.Skip();
                }
            }

            return new ChannelFacts
            {
                Name = name ?? throw new DocumentException("A channel has a name."),
                Type = type ?? throw new DocumentException("A channel has a type."),
                Pass = pass,
                Samples = isRead ? JsonSerializer.Deserialize(ref again, options.Of<SampleStatistics>()) : null,
            };
        }

        public override void Write(Utf8JsonWriter writer, ChannelFacts value, JsonSerializerOptions options)
        {
            SampleStatistics? s = value.Samples;
            writer.WriteStartObject();
            writer.WriteString("name", value.Name);
            writer.WriteString("type", ChannelTypes.Name(value.Type));
            writer.WriteString("pass", value.Pass);
            Number(writer, "min", s?.Min);
            Number(writer, "max", s?.Max);
            Number(writer, "mean", s?.Mean);
            Number(writer, "stdDev", s?.StdDev);
            Number(writer, "nan", s?.Nan);
            Number(writer, "inf", s?.Inf);
            Number(writer, "pixels", s?.Pixels);
            if (s is not null)
            {
                writer.WriteString("hash", s.Hash);
                writer.WriteString("grid", s.Grid);
                writer.WriteNumber("levels", s.Levels);
                writer.WriteNumber("negative", s.Negative);
                writer.WriteNumber("zero", s.Zero);
                writer.WriteNumber("one", s.One);
                writer.WriteNumber("aboveOne", s.AboveOne);
                writer.WriteStartArray("percentiles");
                foreach (double percentile in s.Percentiles)
                {
                    writer.WriteNumberValue(percentile);
                }

                writer.WriteEndArray();
                if (s.FirstNonFinite is not null)
                {
                    writer.WritePropertyName("firstNonFinite");
                    JsonSerializer.Serialize(writer, s.FirstNonFinite, options.Of<int[]?>());
                    writer.WritePropertyName("nonFiniteBox");
                    JsonSerializer.Serialize(writer, s.NonFiniteBox, options.Of<int[]?>());
                }
            }

            writer.WriteEndObject();
        }

        private static void Number(Utf8JsonWriter writer, string name, double? value)
        {
            if (value is { } number)
            {
                writer.WriteNumber(name, number);
            }
            else
            {
                writer.WriteNull(name);
            }
        }
    }
}

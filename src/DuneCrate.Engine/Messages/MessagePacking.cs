using System.Buffers.Binary;
using System.IO.Compression;
using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Failures;
using DuneCrate.Imaging;

namespace DuneCrate.Engine.Messages;

/// <summary>
/// Messages as bytes: the length of the text in four bytes (little-endian), then JSON in the form of facts, packed by Brotli. What comes
/// from the engine is not believed: all messages that are unpacked at once take 64 MiB at most, by the length that each declares before and
/// by what comes of it meanwhile; numbers are numbers and lists have no holes.
/// </summary>
internal static class MessagePacking
{
    private const int Quality = 4,
        LengthBytes = 4;

    /// <summary>Bytes of text that all messages together may have while they are unpacked.</summary>
    public const int MostBytes = 64 << 20;

    private static readonly MemoryGate Room = new(MostBytes);

    private static readonly JsonSerializerOptions Written = AnyJson.With(FactsDocument.Compact);

    private static readonly JsonSerializerOptions Form = new(Written)
    {
        Converters = { new FiniteJsonConverter(), new FiniteSingleJsonConverter() },
    };

    /// <summary>A message as bytes.</summary>
    /// <exception cref="InsufficientMemoryException">Its text is longer than anybody would unpack.</exception>
    public static byte[] Pack<T>(T message)
    {
        byte[] text = JsonSerializer.SerializeToUtf8Bytes(message, Written);
        if (text.Length > MostBytes)
        {
            throw new InsufficientMemoryException($"the message has {text.Length >> 20} MiB, and at most {MostBytes >> 20} are unpacked");
        }

        using var packed = new MemoryStream();
        Span<byte> length = stackalloc byte[LengthBytes];
        BinaryPrimitives.WriteInt32LittleEndian(length, text.Length);
        packed.Write(length);
        using (var brotli = new BrotliStream(packed, new BrotliCompressionOptions { Quality = Quality }, leaveOpen: true))
        {
            brotli.Write(text);
        }

        return packed.ToArray();
    }

    /// <summary>A message out of bytes.</summary>
    /// <param name="bytes">The bytes.</param>
    /// <param name="most">Bytes of text that such a message may have.</param>
    /// <exception cref="FormatException">They are none.</exception>
    public static T Unpack<T>(byte[]? bytes, int most = MostBytes)
        where T : class
    {
        if (bytes is not { Length: > LengthBytes })
        {
            throw new FormatException("a message is empty");
        }

        int length = BinaryPrimitives.ReadInt32LittleEndian(bytes);
        if (length <= 0 || length > most)
        {
            throw new FormatException($"a message says that it unpacks to {length} bytes, and at most {most} are unpacked");
        }

        using IDisposable room = Room.Take(length, default);
        try
        {
            return DocumentJson.Read<T>(Text(bytes, length), Form);
        }
        catch (Exception e)
            when (e is JsonException or InvalidDataException or InvalidOperationException or NotSupportedException or ArgumentException)
        {
            throw new FormatException("a message cannot be read", e);
        }
    }

    private static string Text(byte[] bytes, int length)
    {
        byte[] text = new byte[length];
        using var brotli = new BrotliStream(new MemoryStream(bytes, LengthBytes, bytes.Length - LengthBytes), CompressionMode.Decompress);
        return brotli.ReadAtLeast(text, length, throwOnEndOfStream: false) == length && brotli.ReadByte() < 0
            ? Encoding.UTF8.GetString(text)
            : throw new FormatException("a message has another length than it says");
    }

    /// <summary>Numbers that a text writes too large for what they are read into are none.</summary>
    private sealed class FiniteJsonConverter : JsonConverter<double>
    {
        public override double Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            reader.GetDouble() is var number && double.IsFinite(number) ? number : throw new DocumentException("A number is out of range.");

        public override void Write(Utf8JsonWriter writer, double value, JsonSerializerOptions options) => writer.WriteNumberValue(value);
    }

    /// <summary>The same for short ones.</summary>
    private sealed class FiniteSingleJsonConverter : JsonConverter<float>
    {
        public override float Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            reader.GetSingle() is var number && float.IsFinite(number) ? number : throw new DocumentException("A number is out of range.");

        public override void Write(Utf8JsonWriter writer, float value, JsonSerializerOptions options) => writer.WriteNumberValue(value);
    }
}

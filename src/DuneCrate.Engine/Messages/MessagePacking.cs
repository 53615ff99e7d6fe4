using System.IO.Compression;
using System.Text.Json;
using DuneCrate.Core.Intake;

namespace DuneCrate.Engine.Messages;

/// <summary>
/// Messages as bytes: JSON in the form of facts, packed by Brotli. What comes from the engine is bounded and not believed.
/// </summary>
internal static class MessagePacking
{
    private const int Quality = 4,
        MostBytes = 256 << 20;

    /// <summary>A message as bytes.</summary>
    public static byte[] Pack<T>(T message)
    {
        using var packed = new MemoryStream();
        using (var brotli = new BrotliStream(packed, new BrotliCompressionOptions { Quality = Quality }, leaveOpen: true))
        {
            JsonSerializer.Serialize(brotli, message, FactsDocument.Compact);
        }

        return packed.ToArray();
    }

    /// <summary>A message out of bytes.</summary>
    /// <exception cref="FormatException">They are none.</exception>
    public static T Unpack<T>(byte[]? bytes)
        where T : class
    {
        try
        {
            using var brotli = new BrotliStream(new MemoryStream(bytes ?? []), CompressionMode.Decompress);
            using var bounded = new MemoryStream();
            byte[] buffer = new byte[1 << 16];
            for (int read; (read = brotli.Read(buffer)) > 0; )
            {
                bounded.Write(buffer, 0, read);
                if (bounded.Length > MostBytes)
                {
                    throw new FormatException($"a message unpacks to more than {MostBytes >> 20} MiB");
                }
            }

            return JsonSerializer.Deserialize<T>(bounded.GetBuffer().AsSpan(0, (int)bounded.Length), FactsDocument.Compact)
                ?? throw new FormatException("a message is empty");
        }
        catch (Exception e) when (e is JsonException or InvalidDataException or InvalidOperationException or NotSupportedException)
        {
            throw new FormatException($"a message cannot be read: {e.Message}", e);
        }
    }
}

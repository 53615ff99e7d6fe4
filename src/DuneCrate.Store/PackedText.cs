using System.IO.Compression;
using System.Text;

namespace DuneCrate.Store;

/// <summary>Texts as Brotli-compressed UTF-8, for columns that hold documents.</summary>
public static class PackedText
{
    /// <summary>Packs a text.</summary>
    public static byte[] Pack(string text)
    {
        using var packed = new MemoryStream();
        using (var brotli = new BrotliStream(packed, CompressionLevel.Fastest))
        {
            brotli.Write(Encoding.UTF8.GetBytes(text));
        }

        return packed.ToArray();
    }

    /// <summary>Unpacks a text.</summary>
    public static string Unpack(byte[] packed)
    {
        using var brotli = new BrotliStream(new MemoryStream(packed), CompressionMode.Decompress);
        using var reader = new StreamReader(brotli, Encoding.UTF8);
        return reader.ReadToEnd();
    }
}

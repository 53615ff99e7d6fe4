using System.Buffers.Binary;
using System.Collections.Frozen;
using System.Security.Cryptography;
using System.Text;

namespace DuneCrate.Web.Access;

/// <summary>
/// The 10,000 most frequent passwords of five and more letters and digits in published breaches, as the first four bytes of their SHA-256,
/// most significant first, in order. Source: the frequency list of zxcvbn 4.4.2 (npm, MIT licence).
/// </summary>
internal static class BreachedPasswords
{
    private const int Shortest = 5;

    private static readonly FrozenSet<uint> Known = Read();

    /// <summary>Whether a text is one of them, said once or several times, with digits around it or without.</summary>
    /// <param name="plain">Lower case, nothing but letters and digits.</param>
    public static bool IsOne(string plain) => IsRepeated(plain) || IsRepeated(plain.Trim("0123456789".ToCharArray()));

    private static bool IsRepeated(string text)
    {
        for (int length = Shortest; length <= text.Length; length++)
        {
            string first = text[..length];
            if (text.Length % length == 0 && text.Replace(first, "", StringComparison.Ordinal).Length == 0 && Known.Contains(Of(first)))
            {
                return true;
            }
        }

        return false;
    }

    private static uint Of(string text) => BinaryPrimitives.ReadUInt32BigEndian(SHA256.HashData(Encoding.UTF8.GetBytes(text)));

    private static FrozenSet<uint> Read()
    {
        using Stream stream = typeof(BreachedPasswords).Assembly.GetManifestResourceStream("breached-passwords.bin")!;
        byte[] bytes = new byte[stream.Length];
        stream.ReadExactly(bytes);
        return bytes.Chunk(sizeof(uint)).Select(c => BinaryPrimitives.ReadUInt32BigEndian(c)).ToFrozenSet();
    }
}

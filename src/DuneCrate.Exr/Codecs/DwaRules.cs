using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Text;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// Channels by the last part of their name and their type → how they are packed, and which of red, green, blue they are (−1: none).
/// </summary>
internal sealed record DwaRules(ImmutableArray<(string Suffix, ExrPixelType Type, DwaScheme Scheme, int Colour, bool IgnoresCase)> Rules)
{
    private const int MostRules = 1024;

    /// <summary>The rules of files older than version 2.</summary>
    public static readonly DwaRules Legacy = new([
        .. Colour("r", 0),
        .. Colour("red", 0),
        .. Colour("g", 1),
        .. Colour("grn", 1),
        .. Colour("green", 1),
        .. Colour("b", 2),
        .. Colour("blu", 2),
        .. Colour("blue", 2),
        .. Colour("y", -1),
        .. Colour("by", -1),
        .. Colour("ry", -1),
        ("a", ExrPixelType.UInt, DwaScheme.RunLength, -1, true),
        ("a", ExrPixelType.Half, DwaScheme.RunLength, -1, true),
        ("a", ExrPixelType.Float, DwaScheme.RunLength, -1, true),
    ]);

    /// <summary>
    /// Reads the rules at the head of a version 2 chunk: their size in bytes with the size itself, then name, packed byte and type of each.
    /// </summary>
    /// <exception cref="InvalidDataException">They contradict themselves.</exception>
    public static DwaRules Read(ReadOnlySpan<byte> from, out int used)
    {
        used = from.Length >= 2 ? BinaryPrimitives.ReadUInt16LittleEndian(from) : 0;
        if (used < 2 || used > from.Length)
        {
            throw new InvalidDataException("the channel rules of a DWA chunk do not fit it");
        }

        var rules = ImmutableArray.CreateBuilder<(string, ExrPixelType, DwaScheme, int, bool)>();
        for (ReadOnlySpan<byte> rest = from[2..used]; !rest.IsEmpty; )
        {
            int zero = rest.IndexOf((byte)0);
            if (zero < 0 || rest.Length < zero + 3 || rules.Count == MostRules)
            {
                throw new InvalidDataException("the channel rules of a DWA chunk end early");
            }

            int value = rest[zero + 1],
                scheme = (value >> 2) & 3,
                colour = (value >> 4) - 1,
                type = rest[zero + 2];
            if (scheme > 2 || colour > 2 || type > 2)
            {
                throw new InvalidDataException("a channel rule of a DWA chunk means nothing");
            }

            rules.Add(
                (
                    Encoding.UTF8.GetString(rest[..zero]),
                    type switch
                    {
                        0 => ExrPixelType.UInt,
                        1 => ExrPixelType.Half,
                        _ => ExrPixelType.Float,
                    },
                    (DwaScheme)scheme,
                    colour,
                    (value & 1) != 0
                )
            );
            rest = rest[(zero + 3)..];
        }

        return new DwaRules(rules.ToImmutable());
    }

    private static (string, ExrPixelType, DwaScheme, int, bool)[] Colour(string suffix, int colour) =>
        [(suffix, ExrPixelType.Half, DwaScheme.Cosine, colour, true), (suffix, ExrPixelType.Float, DwaScheme.Cosine, colour, true)];
}

using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Text;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Images.Exr.Codecs;

/// <summary>How DWA packs a channel; the numbers are those in files.</summary>
internal enum DwaScheme
{
    /// <summary>zlib over the samples as they are.</summary>
    Raw = 0,

    /// <summary>Quantised cosine transforms.</summary>
    Cosine = 1,

    /// <summary>Run lengths of byte planes, then zlib.</summary>
    RunLength = 2,
}

/// <summary>Channels by the last part of their name and their type → how they are packed, and which of red, green, blue they are (−1: none).</summary>
internal sealed record DwaRules(ImmutableArray<(string Suffix, ChannelType Type, DwaScheme Scheme, int Colour, bool IgnoresCase)> Rules)
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
        ("a", ChannelType.UInt, DwaScheme.RunLength, -1, true),
        ("a", ChannelType.Half, DwaScheme.RunLength, -1, true),
        ("a", ChannelType.Float, DwaScheme.RunLength, -1, true),
    ]);

    /// <summary>Reads the rules at the head of a version 2 chunk: their size in bytes with the size itself, then name, packed byte and type of each.</summary>
    /// <exception cref="InvalidDataException">They contradict themselves.</exception>
    public static DwaRules Read(ReadOnlySpan<byte> from, out int used)
    {
        used = from.Length >= 2 ? BinaryPrimitives.ReadUInt16LittleEndian(from) : 0;
        if (used < 2 || used > from.Length)
        {
            throw new InvalidDataException("the channel rules of a DWA chunk do not fit it");
        }

        var rules = ImmutableArray.CreateBuilder<(string, ChannelType, DwaScheme, int, bool)>();
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
                        0 => ChannelType.UInt,
                        1 => ChannelType.Half,
                        _ => ChannelType.Float,
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

    private static (string, ChannelType, DwaScheme, int, bool)[] Colour(string suffix, int colour) =>
        [(suffix, ChannelType.Half, DwaScheme.Cosine, colour, true), (suffix, ChannelType.Float, DwaScheme.Cosine, colour, true)];
}

/// <summary>What the channels of a chunk are to DWA.</summary>
internal sealed class DwaPlan
{
    private readonly bool[] _inSet;

    private DwaPlan(DwaScheme[] schemes, int[][] sets)
    {
        (Schemes, Sets, _inSet) = (schemes, sets, new bool[schemes.Length]);
        foreach (int c in sets.SelectMany(s => s))
        {
            _inSet[c] = true;
        }
    }

    /// <summary>By channel.</summary>
    public DwaScheme[] Schemes { get; }

    /// <summary>Red, green and blue that are transformed together, by the names before their last part.</summary>
    public int[][] Sets { get; }

    /// <summary>Bytes of the channels that are stored as they are.</summary>
    public int UnknownBytes { get; private set; }

    /// <summary>Bytes of the channels that are stored as run lengths.</summary>
    public int RleBytes { get; private set; }

    /// <summary>8 × 8 blocks of the channels that are transformed.</summary>
    public int Blocks { get; private set; }

    /// <summary>Whether a channel is transformed with others.</summary>
    public bool IsInSet(int channel) => _inSet[channel];

    /// <summary>Sorts the channels of a chunk.</summary>
    public static DwaPlan Of(in ExrChunkShape shape, DwaRules rules)
    {
        ImmutableArray<ExrChannel> channels = shape.Part.Channels;
        var schemes = new DwaScheme[channels.Length];
        var sets = new OrderedDictionary<string, int[]>();
        for (int c = 0; c < channels.Length; c++)
        {
            int dot = channels[c].Name.LastIndexOf('.');
            string prefix = dot < 0 ? "" : channels[c].Name[..dot],
                suffix = channels[c].Name[(dot + 1)..];
            foreach ((string name, ChannelType type, DwaScheme scheme, int colour, bool ignoresCase) in rules.Rules)
            {
                if (
                    type != channels[c].Type
                    || !string.Equals(name, suffix, ignoresCase ? StringComparison.OrdinalIgnoreCase : StringComparison.Ordinal)
                )
                {
                    continue;
                }

                // The last rule that fits decides, as in the reference implementation.
                schemes[c] = scheme;
                if (colour >= 0 && scheme == DwaScheme.Cosine)
                {
                    int[] set = sets.TryGetValue(prefix, out int[]? known) ? known : sets[prefix] = [-1, -1, -1];
                    set[colour] = c;
                }
            }
        }

        var plan = new DwaPlan(
            schemes,
            [
                .. sets.OrderBy(s => s.Key, StringComparer.Ordinal)
                    .Select(s => s.Value)
                    .Where(s =>
                        s.All(c => c >= 0)
                        && s.All(c =>
                            (channels[c].XSampling, channels[c].YSampling) == (channels[s[0]].XSampling, channels[s[0]].YSampling)
                        )
                    ),
            ]
        );
        for (int c = 0; c < channels.Length; c++)
        {
            int width = shape.Samples(c),
                height = shape.LinesOf(c);
            switch (schemes[c])
            {
                case DwaScheme.Raw:
                    plan.UnknownBytes += width * height * channels[c].Type.Bytes();
                    break;
                case DwaScheme.RunLength:
                    plan.RleBytes += width * height * channels[c].Type.Bytes();
                    break;
                default:
                    plan.Blocks += ((width + 7) / 8) * ((height + 7) / 8);
                    break;
            }
        }

        return plan;
    }
}

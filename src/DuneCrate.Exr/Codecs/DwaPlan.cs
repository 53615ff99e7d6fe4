using System.Collections.Immutable;

namespace DuneCrate.Exr.Codecs;

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
    public static DwaPlan Create(in ExrChunkShape shape, DwaRules rules)
    {
        ImmutableArray<ExrChannel> channels = shape.Part.Channels;
        var schemes = new DwaScheme[channels.Length];
        var sets = new OrderedDictionary<string, int[]>();
        for (int c = 0; c < channels.Length; c++)
        {
            int dot = channels[c].Name.LastIndexOf('.');
            string prefix = dot < 0 ? "" : channels[c].Name[..dot],
                suffix = channels[c].Name[(dot + 1)..];
            foreach ((string name, ExrPixelType type, DwaScheme scheme, int colour, bool ignoresCase) in rules.Rules)
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

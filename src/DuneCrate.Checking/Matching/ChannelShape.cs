using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Checking.Matching;

/// <summary>
/// The channels that files of one output have in common: most frames of a sequence have the same, so that rules about names and types are
/// asked once for all of them, and a channel is
/// found by name without a search.
/// </summary>
public sealed class ChannelShape
{
    private readonly Dictionary<string, (int Part, int Channel)> _index = [];
    private ChannelPlace[]?[] _places = [],
        _colours = [];

    private ChannelShape(FileFacts first)
    {
        First = first;
        for (int p = 0; p < first.Parts.Length; p++)
        {
            for (int c = 0; c < first.Parts[p].Channels.Length; c++)
            {
                _index.TryAdd(first.Parts[p].Channels[c].Name, (p, c));
            }
        }
    }

    /// <summary>
    /// Where the channels of a pass are in such files, those that are there; without alpha when <paramref name="colour"/> is set.
    /// </summary>
    internal ChannelPlace[] Places(CheckedPass pass, bool colour)
    {
        // Rules ask side by side: each works on the array that it saw and puts a larger one in its place. Whoever comes later finds the
        // same places, so it does no harm when
        // some are worked out twice.
        ref ChannelPlace[]?[] shared = ref colour ? ref _colours : ref _places;
        ChannelPlace[]?[] known = Volatile.Read(ref shared);
        if (pass.Number < known.Length && known[pass.Number] is { } places)
        {
            return places;
        }

        places =
        [
            .. pass
                .Channels.Where(c => _index.ContainsKey(c.Name) && !(colour && ChannelNames.IsAlpha(c.Name)))
                .Select(c => new ChannelPlace(c.Name, _index[c.Name].Part, _index[c.Name].Channel)),
        ];
        var grown = new ChannelPlace[]?[Math.Max(known.Length, pass.Number + 1)];
        known.CopyTo(grown, 0);
        grown[pass.Number] = places;
        Volatile.Write(ref shared, grown);
        return places;
    }

    /// <summary>A file with these channels.</summary>
    public FileFacts First { get; }

    /// <summary>The channel of a name in one of the files, or null.</summary>
    public ChannelFacts? Find(FileFacts file, string name) =>
        _index.TryGetValue(name, out var at) ? file.Parts[at.Part].Channels[at.Channel] : null;

    /// <summary>Shapes of files, each made once.</summary>
    public sealed class Finder
    {
        private readonly List<ChannelShape> _shapes = [];

        /// <summary>The shape of a file.</summary>
        public ChannelShape Match(FileFacts file)
        {
            // The latest is asked first: shapes change seldom along a sequence.
            for (int i = _shapes.Count - 1; i >= 0; i--)
            {
                if (AreAlike(_shapes[i].First, file))
                {
                    return _shapes[i];
                }
            }

            var shape = new ChannelShape(file);
            _shapes.Add(shape);
            return shape;
        }

        private static bool AreAlike(FileFacts one, FileFacts other)
        {
            if (one.Parts.Length != other.Parts.Length)
            {
                return false;
            }

            for (int p = 0; p < one.Parts.Length; p++)
            {
                var (a, b) = (one.Parts[p].Channels, other.Parts[p].Channels);
                if (a.Equals(b))
                {
                    continue;
                }

                if (a.Length != b.Length)
                {
                    return false;
                }

                for (int c = 0; c < a.Length; c++)
                {
                    if (a[c].Type != b[c].Type || a[c].Name != b[c].Name)
                    {
                        return false;
                    }
                }
            }

            return true;
        }
    }
}

using System.Collections.Immutable;
using System.Diagnostics.CodeAnalysis;

namespace DuneCrate.Foundation.Passes;

/// <summary>
/// The passes that the product knows, as data that plan, rules, stack and slip all read. The values are common practice of the
/// trade. To add a pass, add an entry to <see cref="ShippedPasses"/>. Immutable; safe to share between threads.
/// </summary>
public sealed class PassCatalogue
{
    /// <summary>The catalogue that ships with the product.</summary>
    public static readonly PassCatalogue Shipped = new(ShippedPasses.All);

    private readonly Dictionary<string, PassDefinition> _byKey;
    private readonly ImmutableArray<(ImmutableArray<string> Words, PassDefinition Pass)> _aliases;

    /// <summary>Makes a catalogue of the given passes.</summary>
    /// <exception cref="ArgumentException">Two passes share a key.</exception>
    public PassCatalogue(ImmutableArray<PassDefinition> passes)
    {
        Passes = passes;
        _byKey = passes.ToDictionary(p => p.Stem, StringComparer.Ordinal);
        _aliases =
        [
            .. passes
                .SelectMany(p => p.Aliases.Append(p.Stem).Select(alias => (Words: Words(alias), Pass: p)))
                .OrderByDescending(a => a.Words.Length)
                .ThenByDescending(a => a.Words.Sum(w => w.Length)),
        ];
    }

    /// <summary>Every pass, in the order people expect.</summary>
    public ImmutableArray<PassDefinition> Passes { get; }

    /// <summary>A short text that differs for catalogues that name passes or aliases differently.</summary>
    public string Signature =>
        field ??= System
            .IO.Hashing.XxHash3.HashToUInt64(
                System.Text.Encoding.UTF8.GetBytes(
                    string.Join('|', Passes.Select(p => $"{p.Key}:{p.Kind}:{p.Measures}:{string.Join(',', p.Aliases)}"))
                )
            )
            .ToString("x16", System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>
    /// This catalogue with more passes (one of a known key replaces it) and more aliases (alias to key; unknown keys are passed over).
    /// </summary>
    public PassCatalogue With(IEnumerable<PassDefinition> additions, IEnumerable<KeyValuePair<string, string>> aliases)
    {
        var added = additions.DistinctBy(p => p.Stem).ToDictionary(p => p.Stem);
        ILookup<string, string> more = aliases.ToLookup(a => KeyOf(a.Value) ?? a.Value, a => a.Key);
        return new PassCatalogue([
            .. Passes
                .Where(p => !added.ContainsKey(p.Stem))
                .Concat(added.Values)
                .Select(p => p with { Aliases = [.. p.Aliases, .. more[p.Key]] }),
        ]);
    }

    /// <summary>The definition of a pass key as plans write it; <c>matte.lamps</c> finds <c>matte.*</c>.</summary>
    public bool TryFind(string key, [NotNullWhen(true)] out PassDefinition? pass)
    {
        if (_byKey.TryGetValue(key, out pass) && !pass.IsFamily)
        {
            return true;
        }

        int dot = key.IndexOf('.');
        return dot > 0 && dot < key.Length - 1 && _byKey.TryGetValue(key[..dot], out pass) && pass.IsFamily;
    }

    /// <summary>The definition of a pass key, or null.</summary>
    public PassDefinition? Find(string key) => TryFind(key, out PassDefinition? pass) ? pass : null;

    /// <summary>
    /// The key that somebody means by a name: a key as it is, an alias as the key that it stands for (<c>zdepth</c> as <c>depth</c>,
    /// <c>crypto_object</c> as <c>cryptomatte.object</c>); null for a name that means none.
    /// </summary>
    public string? KeyOf(string name)
    {
        if (TryFind(name, out _))
        {
            return name;
        }

        ImmutableArray<string> words = Words(name);
        foreach ((ImmutableArray<string> alias, PassDefinition pass) in _aliases)
        {
            bool begins = words.Length >= alias.Length && words.AsSpan(0, alias.Length).SequenceEqual(alias.AsSpan());
            if (begins && pass.IsFamily == words.Length > alias.Length)
            {
                return pass.IsFamily ? $"{pass.Stem}.{string.Join('_', words.Skip(alias.Length))}" : pass.Key;
            }
        }

        return null;
    }

    /// <summary>
    /// The key of the pass that a channel most likely belongs to, by OpenEXR's naming (<c>R G B A</c> and <c>Z</c> at the root,
    /// <c>pass.R</c> in a layer) and the catalogue's aliases; null when nothing fits.
    /// </summary>
    public string? PassOfChannel(string channel)
    {
        int dot = channel.LastIndexOf('.');
        if (dot < 0)
        {
            return channel switch
            {
                "R" or "G" or "B" or "A" or "Y" => PassKeys.Beauty,
                "Z" => PassKeys.Depth,
                _ => FindByAlias(channel)?.Stem,
            };
        }

        string layer = channel[..dot];
        if (TryFind(layer, out _))
        {
            return layer;
        }

        return FindByAlias(layer) is not { } pass ? null
            : pass.IsFamily ? $"{pass.Stem}.{Remainder(layer, pass)}"
            : pass.Key;
    }

    /// <summary>The pass whose key or alias stands in <paramref name="name"/> as whole words, longest first; null without one.</summary>
    public PassDefinition? FindByAlias(string name)
    {
        ImmutableArray<string> words = Words(name);
        foreach ((ImmutableArray<string> alias, PassDefinition pass) in _aliases)
        {
            if (Contains(words, alias))
            {
                return pass;
            }
        }

        return null;
    }

    private string Remainder(string layer, PassDefinition pass)
    {
        ImmutableArray<string> words = Words(layer);
        ImmutableArray<string> alias = _aliases.First(a => a.Pass == pass && Contains(words, a.Words)).Words;
        string rest = string.Join('_', words.Where(w => !alias.Contains(w) && !w.All(char.IsAsciiDigit)));
        return rest.Length > 0 ? rest : "all";
    }

    private static bool Contains(ImmutableArray<string> words, ImmutableArray<string> alias)
    {
        for (int at = 0; at + alias.Length <= words.Length; at++)
        {
            if (words.AsSpan(at, alias.Length).SequenceEqual(alias.AsSpan()))
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>Splits on <c>. _ -</c>, on case changes and between letters and digits; lower case.</summary>
    internal static ImmutableArray<string> Words(string name)
    {
        var words = ImmutableArray.CreateBuilder<string>();
        int start = 0;
        for (int i = 0; i <= name.Length; i++)
        {
            bool separator = i == name.Length || name[i] is '.' or '_' or '-' or ' ';
            bool boundary =
                !separator
                && i > start
                && ((char.IsUpper(name[i]) && char.IsLower(name[i - 1])) || (char.IsDigit(name[i]) != char.IsDigit(name[i - 1])));
            if (separator || boundary)
            {
                if (i > start)
                {
                    words.Add(name[start..i].ToLowerInvariant());
                }

                start = separator ? i + 1 : i;
            }
        }

        return words.ToImmutable();
    }
}

using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Rebuild;

/// <summary>
/// Which channels must sum to which: for each of red, green and blue one beauty channel and, per term, one channel (or two that
/// are multiplied).
/// </summary>
/// <param name="Beauty">Names of the beauty's three channels.</param>
/// <param name="Terms">The addends.</param>
public sealed record RebuildRecipe(ImmutableArray<string> Beauty, ImmutableArray<RebuildRecipeTerm> Terms)
{
    /// <summary>Stands between pass and channel where the name alone says too little; no name holds it.</summary>
    private const char OfPass = '\u001f';

    /// <summary>A text that differs whenever the recipe does; part of the facts cache's key.</summary>
    public string Signature { get; } =
        string.Join('|', Terms.Select(t => string.Join('*', t.Factors.Select(f => string.Join(',', f)))).Prepend(string.Join(',', Beauty)));

    /// <summary>Every channel that is needed.</summary>
    public IEnumerable<string> Channels => Beauty.Concat(Terms.SelectMany(t => t.Factors.SelectMany(f => f)));

    /// <summary>The recipe of a layer, or null when the layer does not say what its beauty is the sum of.</summary>
    public static RebuildRecipe? From(LayerPlan layer)
    {
        var passes = layer.Passes.DistinctBy(p => p.Pass).ToDictionary(p => p.Pass);
        HashSet<string> shared =
        [
            .. passes.Values.SelectMany(p => p.Channels.Keys.Distinct()).GroupBy(c => c).Where(g => g.Count() > 1).Select(g => g.Key),
        ];
        if (layer.Rebuild.IsEmpty || !passes.TryGetValue(PassKeys.Beauty, out PassPlan? beauty) || Colour(beauty, shared) is not { } main)
        {
            return null;
        }

        var terms = ImmutableArray.CreateBuilder<RebuildRecipeTerm>();
        foreach (RebuildTerm term in layer.Rebuild)
        {
            var factors = ImmutableArray.CreateBuilder<ImmutableArray<string>>();
            foreach (string factor in term.Factors)
            {
                if (!passes.TryGetValue(factor, out PassPlan? pass) || Colour(pass, shared) is not { } channels)
                {
                    return null;
                }

                factors.Add(channels);
            }

            terms.Add(new RebuildRecipeTerm(term.ToString(), factors.ToImmutable()));
        }

        return new RebuildRecipe(main, terms.ToImmutable());
    }

    /// <summary>The planned name of one of the recipe's channels, in its own file.</summary>
    public static string NameOf(string channel) => channel[(channel.IndexOf(OfPass) + 1)..];

    /// <summary>Whether a channel of the recipe is one of a pass.</summary>
    public static bool IsOf(string channel, PassPlan pass) =>
        channel.IndexOf(OfPass) is >= 0 and var end
            ? channel[..end] == pass.Pass && pass.Channels.ContainsKey(NameOf(channel))
            : pass.Channels.ContainsKey(channel);

    /// <summary>
    /// Red, green and blue of a pass. Names that several passes have, each in a file of its own, are told apart by the pass before them.
    /// </summary>
    private static ImmutableArray<string>? Colour(PassPlan pass, HashSet<string> shared)
    {
        string[] names = [.. pass.Channels.Keys];
        string[] colour =
        [
            .. "RGB".Select(c => names.FirstOrDefault(n => n == c.ToString() || n.EndsWith($".{c}", StringComparison.Ordinal)) ?? ""),
        ];
        string[]? found =
            colour.All(c => c.Length > 0) ? colour
            : names.Length == 1 ? [names[0], names[0], names[0]]
            : null;
        return found is null ? null : [.. found.Select(c => shared.Contains(c) ? $"{pass.Pass}{OfPass}{c}" : c)];
    }
}

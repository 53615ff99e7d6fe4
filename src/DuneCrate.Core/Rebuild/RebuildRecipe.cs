using System.Collections.Immutable;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;

namespace DuneCrate.Core.Rebuild;

/// <summary>
/// Which channels must sum to which: for each of red, green and blue one beauty channel and, per term, one channel (or two that
/// are multiplied).
/// </summary>
/// <param name="Beauty">Names of the beauty's three channels.</param>
/// <param name="Terms">The addends.</param>
public sealed record RebuildRecipe(ImmutableArray<string> Beauty, ImmutableArray<RebuildRecipeTerm> Terms)
{
    /// <summary>A text that differs whenever the recipe does; part of the facts cache's key.</summary>
    public string Signature { get; } =
        string.Join('|', Terms.Select(t => string.Join('*', t.Factors.Select(f => string.Join(',', f)))).Prepend(string.Join(',', Beauty)));

    /// <summary>Every channel that is needed.</summary>
    public IEnumerable<string> Channels => Beauty.Concat(Terms.SelectMany(t => t.Factors.SelectMany(f => f)));

    /// <summary>The recipe of a layer, or null when the layer does not say what its beauty is the sum of.</summary>
    public static RebuildRecipe? From(LayerPlan layer)
    {
        var passes = layer.Passes.DistinctBy(p => p.Pass).ToDictionary(p => p.Pass);
        if (layer.Rebuild.IsEmpty || !passes.TryGetValue(PassKeys.Beauty, out PassPlan? beauty) || Colour(beauty) is not { } main)
        {
            return null;
        }

        var terms = ImmutableArray.CreateBuilder<RebuildRecipeTerm>();
        foreach (RebuildTerm term in layer.Rebuild)
        {
            var factors = ImmutableArray.CreateBuilder<ImmutableArray<string>>();
            foreach (string factor in term.Factors)
            {
                if (!passes.TryGetValue(factor, out PassPlan? pass) || Colour(pass) is not { } channels)
                {
                    return null;
                }

                factors.Add(channels);
            }

            terms.Add(new RebuildRecipeTerm(term.ToString(), factors.ToImmutable()));
        }

        return new RebuildRecipe(main, terms.ToImmutable());
    }

    private static ImmutableArray<string>? Colour(PassPlan pass)
    {
        string[] names = [.. pass.Channels.Keys];
        string[] colour =
        [
            .. "RGB".Select(c => names.FirstOrDefault(n => n == c.ToString() || n.EndsWith($".{c}", StringComparison.Ordinal)) ?? ""),
        ];
        return colour.All(c => c.Length > 0) ? [.. colour]
            : names.Length == 1 ? [names[0], names[0], names[0]]
            : null;
    }
}

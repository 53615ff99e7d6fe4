using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Model;

/// <summary>
/// Which passes sum to the beauty. The catalogue says how finely each splits the light and which coarser ones hold the same light; two of
/// those
/// in one sum count it twice.
/// </summary>
public static class RebuildSum
{
    /// <summary>A term with the entry that says what light is in it: of a product that of its irradiance.</summary>
    private readonly record struct Share(RebuildTerm Term, PassDefinition Pass);

    /// <summary>
    /// Proposes the sum for what is planned: the finest split that is whole; empty without a beauty or with fewer than two terms.
    /// </summary>
    public static ImmutableArray<RebuildTerm> Propose(PassCatalogue catalogue, IEnumerable<string> passes)
    {
        var planned = passes.ToHashSet();
        var kept = new List<Share>();
        foreach (Share share in Candidates(catalogue, planned).OrderBy(s => s.Pass.Family))
        {
            PassDefinition pass = share.Pass;
            bool isHalf = pass.Kind == PassKind.Light && pass.Counterpart is { } other && !planned.Contains(other);
            if (!(isHalf && pass.PartOf.Any(planned.Contains)) && !kept.Any(k => HoldSameLight(k.Pass, pass)))
            {
                kept.Add(share);
            }
        }

        RebuildTerm[] terms =
        [
            .. kept.OrderBy(k => k.Pass.Kind == PassKind.Factor ? -1 : catalogue.Passes.IndexOf(k.Pass)).Select(k => k.Term),
        ];
        if (terms.Length < 2)
        {
            string[] groups = [.. planned.Where(p => catalogue.Find(p)?.Family == PassFamily.LightGroups).Order(StringComparer.Ordinal)];
            terms = groups.Length > 1 ? [.. groups.Select(g => new RebuildTerm(g))] : terms;
        }

        return planned.Contains(PassKeys.Beauty) && terms.Length > 1 ? [.. terms] : [];
    }

    /// <summary>Sums that the passes of a layer allow, each by its name: what is planned, then a split of every fineness that is
    /// whole.</summary>
    /// <param name="catalogue">The catalogue.</param>
    /// <param name="layer">The layer.</param>
    public static ImmutableArray<(string Name, ImmutableArray<RebuildTerm> Terms)> Families(PassCatalogue catalogue, LayerPlan layer)
    {
        string[] passes = [.. layer.Passes.Select(p => p.Pass)];
        ImmutableArray<RebuildTerm> Coarser(params PassFamily[] finer)
        {
            PassDefinition[] left = [.. passes.Select(catalogue.Find).OfType<PassDefinition>().Where(p => finer.Contains(p.Family))];
            return left.SelectMany(p => p.PartOf).Any(passes.Contains)
                ? Propose(catalogue, passes.Where(p => left.All(l => l.Key != p)))
                : [];
        }

        string[] factored = [.. passes.Where(p => catalogue.Find(p)?.Family == PassFamily.Factored)];
        HashSet<string> byFactors = [.. factored.SelectMany(f => catalogue.Find(f)!.PartOf)];
        ImmutableArray<RebuildTerm> groups =
        [
            .. passes
                .Where(p => catalogue.Find(p)?.Family == PassFamily.LightGroups)
                .Order(StringComparer.Ordinal)
                .Select(g => new RebuildTerm(g)),
        ];
        (string Name, ImmutableArray<RebuildTerm> Terms)[] all =
        [
            ("as planned", layer.Rebuild),
            ("the finest split", Propose(catalogue, passes)),
            ("a pass for each surface", Coarser(PassFamily.Fine)),
            ("direct and indirect", Coarser(PassFamily.Fine, PassFamily.Medium)),
            ("albedo × irradiance", factored.Length > 1 ? Propose(catalogue, passes.Where(p => !byFactors.Contains(p))) : []),
            ("light groups", groups.Length > 1 ? groups : []),
        ];
        return [.. all.Where(f => f.Terms.Length > 1).DistinctBy(f => string.Join('+', f.Terms.Order(ByText)))];
    }

    private static readonly Comparer<RebuildTerm> ByText = Comparer<RebuildTerm>.Create(
        (a, b) => string.CompareOrdinal(a.ToString(), b.ToString())
    );

    /// <summary>Reads "diffuse + specular + albedo × irradiance".</summary>
    /// <exception cref="FormatException">A term has more than two factors.</exception>
    public static ImmutableArray<RebuildTerm> Parse(string? text) =>
        [
            .. (text ?? "")
                .Split('+', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                .Select(t => t.Split(['×', '*'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
                .Select(f =>
                    f.Length is 1 or 2
                        ? new RebuildTerm([.. f])
                        : throw new FormatException("A term is one pass, or two with × between them.")
                ),
        ];

    /// <summary>Two terms of a sum that hold the same light, the coarser first, or null for a sound sum.</summary>
    public static (string Coarser, string Finer)? MixedIn(PassCatalogue catalogue, ImmutableArray<RebuildTerm> sum)
    {
        Share[] shares = [.. sum.Select(t => ShareOf(catalogue, t)).OfType<Share>()];
        foreach (Share coarser in shares)
        {
            if (shares.FirstOrDefault(finer => finer.Pass.PartOf.Contains(coarser.Pass.Key)) is { Pass: not null } finer)
            {
                return (coarser.Term.ToString(), finer.Term.ToString());
            }
        }

        ILookup<bool, Share> byGroup = shares.ToLookup(s => s.Pass.Family == PassFamily.LightGroups);
        return byGroup[true].Any() && byGroup[false].Any()
            ? (byGroup[true].First().Term.ToString(), byGroup[false].First().Term.ToString())
            : null;
    }

    /// <summary>
    /// Terms that a layer's sum lacks: half of a pair (direct diffuse without indirect diffuse), or, with a roster, a share of the light
    /// that
    /// an item shown in the layer gives.
    /// </summary>
    public static string[] MissingIn(Plan plan, LayerPlan layer)
    {
        PassCatalogue catalogue = plan.Catalogue;
        var terms = layer.Rebuild.SelectMany(t => t.Factors).ToHashSet();
        if (terms.Count == 0 || terms.All(t => catalogue.Find(t)?.Family == PassFamily.LightGroups))
        {
            return [];
        }

        PassDefinition[] summed = [.. terms.Select(catalogue.Find).OfType<PassDefinition>()];
        SceneItem[] seen = [.. plan.Items.Where(i => i.IsVisible && layer.RoleOf(i.Name).IsSeen())];
        IEnumerable<string> halves = summed.Select(p => p.Counterpart).OfType<string>().Where(c => !terms.Contains(c));
        IEnumerable<string> shares = catalogue
            .Passes.Where(p => p.Permission == PassNeed.Essential && !IsIn(p) && p.FilledBy.Any(trait => seen.Any(i => i.Is(trait))))
            .Select(p => p.Key);
        return [.. halves.Concat(shares)];

        bool IsIn(PassDefinition pass) =>
            terms.Contains(pass.Key) || pass.StandIns.Any(terms.Contains) || summed.Any(s => s.PartOf.Contains(pass.Key));
    }

    private static bool HoldSameLight(PassDefinition one, PassDefinition other) =>
        one.PartOf.Contains(other.Key) || other.PartOf.Contains(one.Key);

    private static IEnumerable<Share> Candidates(PassCatalogue catalogue, HashSet<string> planned)
    {
        foreach (PassDefinition pass in catalogue.Passes.Where(p => !p.IsFamily && planned.Contains(p.Key)))
        {
            if (pass.Kind == PassKind.Light)
            {
                yield return new Share(new RebuildTerm(pass.Key), pass);
            }
            else if (
                pass.Family == PassFamily.Factored
                && !pass.PartOf.IsEmpty
                && pass.Counterpart is { } factor
                && planned.Contains(factor)
            )
            {
                yield return new Share(new RebuildTerm(factor, pass.Key), pass);
            }
        }
    }

    private static Share? ShareOf(PassCatalogue catalogue, RebuildTerm term) =>
        term.Factors.Select(catalogue.Find).OfType<PassDefinition>().MaxBy(p => p.PartOf.Length) is { } pass ? new Share(term, pass) : null;
}

using System.Collections.Immutable;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Planning.Model;

/// <summary>Proposes which of the planned passes sum to the beauty, so that no light is counted twice.</summary>
public static class RebuildProposal
{
    /// <summary>A finer split of the light → the coarser passes that hold the same light. Common practice.</summary>
    private static readonly (string[] Finer, string[] Coarser)[] Overlaps =
    [
        (["diffuse_direct", "diffuse_indirect"], ["diffuse", "lighting", "gi"]),
        (["diffuse"], ["lighting", "gi"]),
        (["specular_direct", "specular_indirect"], ["specular", "reflection"]),
    ];

    /// <summary>The terms; none without a beauty or with fewer than two light passes.</summary>
    public static ImmutableArray<RebuildTerm> Compute(PassCatalogue catalogue, IEnumerable<string> passes)
    {
        var planned = passes.ToHashSet();
        string[] light =
        [
            .. catalogue.Passes.Where(p => p.Kind == PassKind.Light && !p.IsFamily && planned.Contains(p.Key)).Select(p => p.Key),
        ];
        foreach ((string[] finer, string[] coarser) in Overlaps)
        {
            light = finer.All(light.Contains) ? [.. light.Except(coarser)] : light;
        }

        var terms = light.Select(p => new RebuildTerm(p)).ToList();
        if (
            planned.Contains("albedo")
            && planned.Contains("irradiance")
            && !light.Any(p => p.StartsWith("diffuse", StringComparison.Ordinal))
        )
        {
            terms.Insert(0, new RebuildTerm("albedo", "irradiance"));
        }

        string[] groups = [.. planned.Where(p => p.StartsWith("light_group.", StringComparison.Ordinal)).Order(StringComparer.Ordinal)];
        terms = terms.Count < 2 && groups.Length > 1 ? [.. groups.Select(g => new RebuildTerm(g))] : terms;
        return planned.Contains("beauty") && terms.Count > 1 ? [.. terms] : [];
    }

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
}

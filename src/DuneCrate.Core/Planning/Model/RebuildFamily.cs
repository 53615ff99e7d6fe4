using System.Collections.Immutable;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Scene;

namespace DuneCrate.Core.Planning.Model;

/// <summary>
/// The ways in which light is split into passes that sum to the beauty. Common practice: fine, medium, coarse, light groups. Two of them in
/// one sum count light twice.
/// </summary>
public static class RebuildFamily
{
    /// <summary>A coarser pass, and the finer ones that hold part of the same light.</summary>
    private static readonly (string Coarser, string[] Finer)[] Overlaps =
    [
        ("diffuse", ["diffuse_direct", "diffuse_indirect", "lighting", "gi"]),
        ("specular", ["specular_direct", "specular_indirect"]),
        ("reflection", ["specular_indirect"]),
        ("lighting", ["diffuse_direct", "specular_direct"]),
        ("gi", ["diffuse_indirect"]),
        ("albedo × irradiance", ["diffuse", "diffuse_direct", "diffuse_indirect", "lighting", "gi"]),
    ];

    /// <summary>What a term is filled by, so that it is only missed when the scene has it; passes of every scene have none.</summary>
    private static readonly Dictionary<string, ItemTrait> Fills = new()
    {
        ["transmission"] = ItemTrait.Transparent,
        ["subsurface"] = ItemTrait.Scattering,
        ["emission"] = ItemTrait.Emits,
        ["volume"] = ItemTrait.Volume,
        ["specular"] = ItemTrait.Glossy,
    };

    /// <summary>Two terms of a sum that hold the same light, or null for a sound sum.</summary>
    public static (string One, string Other)? MixedIn(ImmutableArray<RebuildTerm> sum)
    {
        string[] terms = [.. sum.Select(t => t.ToString())];
        foreach ((string coarser, string[] finer) in Overlaps)
        {
            if (terms.Contains(coarser) && finer.FirstOrDefault(terms.Contains) is { } both)
            {
                return (coarser, both);
            }
        }

        string? group = terms.FirstOrDefault(t => t.StartsWith("light_group.", StringComparison.Ordinal));
        string? other = terms.FirstOrDefault(t => !t.StartsWith("light_group.", StringComparison.Ordinal));
        return group is not null && other is not null ? (group, other) : null;
    }

    /// <summary>
    /// Terms that a layer's sum lacks: half of a pair (diffuse_direct without diffuse_indirect), or, with a roster, a share of the light that
    /// an item shown in the layer gives.
    /// </summary>
    public static string[] MissingIn(Plan plan, LayerPlan layer)
    {
        var terms = layer.Rebuild.SelectMany(t => t.Factors).ToHashSet();
        if (terms.Count == 0 || layer.Rebuild.All(t => t.Factors[0].StartsWith("light_group.", StringComparison.Ordinal)))
        {
            return [];
        }

        var missing = new List<string>();
        foreach (
            (string one, string other) in ((string, string)[])
                [("diffuse_direct", "diffuse_indirect"), ("specular_direct", "specular_indirect"), ("albedo", "irradiance")]
        )
        {
            missing.AddRange(
                terms.Contains(one) && !terms.Contains(other) ? [other]
                : terms.Contains(other) && !terms.Contains(one) ? [one]
                : []
            );
        }

        SceneItem[] seen = [.. plan.Items.Where(i => i.IsVisible && layer.RoleOf(i.Name).IsSeen())];
        foreach ((string pass, ItemTrait trait) in Fills)
        {
            bool isCovered =
                terms.Contains(pass)
                || (
                    pass == "specular" && (terms.Contains("specular_direct") || terms.Contains("lighting") || terms.Contains("reflection"))
                );
            if (!isCovered && seen.Any(i => i.Is(trait)))
            {
                missing.Add(pass);
            }
        }

        return [.. missing];
    }
}

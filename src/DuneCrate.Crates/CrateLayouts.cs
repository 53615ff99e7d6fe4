using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates;

/// <summary>How a crate arranges its folders.</summary>
public static class CrateLayouts
{
    /// <summary>A folder per layer, in it one per output: <c>sub/sub_data/sub_data.1001.exr</c>.</summary>
    public const string ByLayer = "layers";

    /// <summary>A folder per kind of pass, in it one per output: <c>data/sub_data/…</c>.</summary>
    public const string ByKind = "kinds";

    /// <summary>The names, with what they do.</summary>
    public static readonly IReadOnlyDictionary<string, string> All = new Dictionary<string, string>
    {
        [ByLayer] = "a folder per render layer",
        [ByKind] = "a folder per kind of pass: colour, data, identity, masks",
    };

    internal static string Group(string layout, PlannedOutput output, PassPlan[] passes) =>
        layout == ByLayer
            ? output.Layer.Name
            : output.Plan.Catalogue.Find(passes[0].Pass)?.Kind switch
            {
                PassKind.Data => "data",
                PassKind.Identity => "identity",
                PassKind.Mask => "masks",
                PassKind.Modulate => "occlusion_shadow",
                _ => "colour",
            };
}

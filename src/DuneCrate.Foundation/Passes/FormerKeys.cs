namespace DuneCrate.Foundation.Passes;

/// <summary>Keys that shipped passes had in earlier versions: documents from then are read with the keys of today.</summary>
public static class FormerKeys
{
    private static readonly Dictionary<string, string> Now = new(StringComparer.Ordinal)
    {
        ["diffuse_direct"] = "direct_diffuse",
        ["diffuse_indirect"] = "indirect_diffuse",
        ["specular_direct"] = "direct_specular",
        ["specular_indirect"] = "indirect_specular",
        ["transmission"] = PassKeys.Refraction,
        ["subsurface"] = "scattering",
        ["lighting"] = "direct_light",
        ["gi"] = "indirect_light",
    };

    /// <summary>Each former key with the key of today.</summary>
    public static IReadOnlyDictionary<string, string> All => Now;

    /// <summary>The key of today; one that never changed, and null, stay as they are.</summary>
    public static string? Today(string? key) => key is not null && Now.TryGetValue(key, out string? today) ? today : key;
}

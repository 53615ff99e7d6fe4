using System.Security.Cryptography;
using System.Text;
using System.Text.Json;

namespace DuneCrate.Web;

/// <summary>
/// Addresses of styles and scripts, with a stamp so that browsers ask for them again after an update: those that pages name, and in an
/// import map those that scripts name to each other.
/// </summary>
internal static class Assets
{
    /// <summary>Changes with every build.</summary>
    public static readonly string Stamp = typeof(Assets).Assembly.ManifestModule.ModuleVersionId.ToString("N")[..8];

    /// <summary>The import map: each script's address with the stamp. Source: HTML Living Standard, import maps.</summary>
    public static readonly string ImportMap = JsonSerializer.Serialize(
        new
        {
            imports = Directory
                .EnumerateFiles(Path.Combine(AppContext.BaseDirectory, "wwwroot", "js"), "*.js")
                .Select(f => $"/js/{Path.GetFileName(f)}")
                .Order(StringComparer.Ordinal)
                .ToDictionary(a => a, a => $"{a}?v={Stamp}"),
        }
    );

    /// <summary>The import map's hash for the content policy, which allows no other text in a page to be a script.</summary>
    public static readonly string ImportMapHash = $"'sha256-{Convert.ToBase64String(SHA256.HashData(Encoding.UTF8.GetBytes(ImportMap)))}'";
}

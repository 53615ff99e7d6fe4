namespace DuneCrate.Web;

/// <summary>A stamp in the addresses of styles and scripts, so that browsers ask for them again after an update.</summary>
internal static class Assets
{
    /// <summary>Changes with every build.</summary>
    public static readonly string Stamp = typeof(Assets).Assembly.ManifestModule.ModuleVersionId.ToString("N")[..8];
}

namespace DuneCrate.Foundation.Passes;

/// <summary>
/// What OpenEXR's names of channels say: <c>layer.last</c> (<em>Technical Introduction to OpenEXR</em>, layers and channels).
/// </summary>
public static class ChannelNames
{
    /// <summary>What stands behind the last dot, or all of it without one: <c>R</c> of <c>direct_diffuse.R</c>.</summary>
    public static string LastOf(string channel) => channel[(channel.LastIndexOf('.') + 1)..];

    /// <summary>Whether a channel is an alpha.</summary>
    public static bool IsAlpha(string channel) => channel == "A" || channel.EndsWith(".A", StringComparison.Ordinal);
}

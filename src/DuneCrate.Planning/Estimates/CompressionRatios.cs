using DuneCrate.Foundation.Passes;

namespace DuneCrate.Planning.Estimates;

/// <summary>
/// What share of its raw size a pass takes when nothing has been measured: the catalogue's share, with a factor for the compression. Rough
/// values from
/// pictures of the stand-in (docs/estimates.md); a test frame replaces them.
/// </summary>
public static class CompressionRatios
{
    /// <summary>The share for a pass under a compression; 1 without compression.</summary>
    public static double Usual(PassDefinition? pass, string? compression)
    {
        double zip = pass?.PackedShare ?? 0.5;
        return compression switch
        {
            "none" => 1,
            "rle" => Math.Min(1, zip * 1.6),
            "zips" => Math.Min(1, zip * 1.1),
            "piz" => zip * 0.95,
            "pxr24" => zip * 0.9,
            "b44" => 0.44,
            "b44a" => Math.Min(0.44, zip),
            "dwaa" or "dwab" => pass?.IsExact == true ? zip : 0.1,
            _ => zip,
        };
    }
}

using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Planning.Estimates;

/// <summary>
/// What share of its raw size a pass takes when nothing has been measured: by kind, with a factor for the compression. Rough values from
/// pictures of the stand-in (docs/estimates.md); a test frame replaces them.
/// </summary>
public static class CompressionRatios
{
    /// <summary>Packed bytes over raw bytes, ZIP, by kind of pass.</summary>
    private static double Zip(PassKind kind) =>
        kind switch
        {
            PassKind.Combined => 0.55,
            PassKind.Light or PassKind.Factor => 0.40,
            PassKind.Modulate => 0.30,
            PassKind.Mask or PassKind.Look => 0.05,
            PassKind.Data => 0.45,
            PassKind.Identity => 0.08,
            _ => 0.5,
        };

    /// <summary>The share for a pass under a compression; 1 without compression.</summary>
    public static double Usual(PassKind kind, string? compression)
    {
        double zip = Zip(kind);
        return compression switch
        {
            "none" => 1,
            "rle" => Math.Min(1, zip * 1.6),
            "zips" => Math.Min(1, zip * 1.1),
            "piz" => zip * 0.95,
            "pxr24" => zip * 0.9,
            "b44" => 0.44,
            "b44a" => Math.Min(0.44, zip),
            "dwaa" or "dwab" => kind is PassKind.Data or PassKind.Identity ? zip : 0.1,
            _ => zip,
        };
    }
}

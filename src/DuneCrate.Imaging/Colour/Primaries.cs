using System.Collections.Immutable;

namespace DuneCrate.Imaging.Colour;

/// <summary>
/// Where red, green, blue and white of a colour space lie, as x and y of CIE 1931. Sources: Rec. ITU-R BT.709-6 and BT.2020-2, SMPTE
/// ST 2065-1 (AP0), the Academy's S-2014-004 (AP1), SMPTE EG 432-1 with the white of D65 (P3).
/// </summary>
public sealed record Primaries(string Key, string Name, ImmutableArray<float> Chromaticities)
{
    private const float Tolerance = 2e-3f;

    /// <summary>Rec. ITU-R BT.709, which sRGB shares.</summary>
    public static readonly Primaries Rec709 = new("rec709", "Rec. 709", [0.64f, 0.33f, 0.30f, 0.60f, 0.15f, 0.06f, 0.3127f, 0.3290f]);

    /// <summary>The known ones.</summary>
    public static readonly ImmutableArray<Primaries> All =
    [
        Rec709,
        new("rec2020", "Rec. 2020", [0.708f, 0.292f, 0.170f, 0.797f, 0.131f, 0.046f, 0.3127f, 0.3290f]),
        new("p3", "P3", [0.680f, 0.320f, 0.265f, 0.690f, 0.150f, 0.060f, 0.3127f, 0.3290f]),
        new("ap0", "ACES 2065-1", [0.7347f, 0.2653f, 0f, 1f, 0.0001f, -0.077f, 0.32168f, 0.33767f]),
        new("ap1", "ACEScg", [0.713f, 0.293f, 0.165f, 0.830f, 0.128f, 0.044f, 0.32168f, 0.33767f]),
    ];

    /// <summary>Those that a show or a header means by the name of a colour space, such as <c>lin_rec709</c> or ACEScg; or null.</summary>
    public static Primaries? OfSpace(string? name) =>
        Plain(name ?? "") switch
        {
            var n when n.Contains("709") || n.Contains("srgb") => Find("rec709"),
            var n when n.Contains("2020") => Find("rec2020"),
            var n when n.Contains("acescg") || n.Contains("ap1") => Find("ap1"),
            var n when n.Contains("2065") || n.Contains("ap0") => Find("ap0"),
            var n when n.Contains("p3") => Find("p3"),
            _ => null,
        };

    /// <summary>The known ones that eight numbers of a header mean, else ones of no name; null for none.</summary>
    public static Primaries? From(ImmutableArray<float>? chromaticities) =>
        chromaticities is not { Length: 8 } found
            ? null
            : All.FirstOrDefault(p => p.IsNear(found)) ?? new Primaries("", "other primaries", found);

    /// <summary>Whether eight numbers mean these.</summary>
    public bool IsNear(ImmutableArray<float> other) =>
        other.Length == Chromaticities.Length && other.Zip(Chromaticities).All(p => Math.Abs(p.First - p.Second) <= Tolerance);

    /// <summary>A colour space's name in lower case and without signs, for comparing.</summary>
    public static string Plain(string name) => string.Concat(name.Where(char.IsLetterOrDigit)).ToLowerInvariant();

    private static Primaries? Find(string key) => All.FirstOrDefault(p => p.Key == key);
}

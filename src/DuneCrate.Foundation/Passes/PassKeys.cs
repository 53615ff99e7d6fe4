namespace DuneCrate.Foundation.Passes;

/// <summary>Keys of passes that code has to name; everything else about a pass stands in its entry of the catalogue.</summary>
public static class PassKeys
{
    /// <summary>The finished picture, against which sums are held.</summary>
    public const string Beauty = "beauty";

    /// <summary>Coverage alone; the root channel A.</summary>
    public const string Alpha = "alpha";

    /// <summary>Distance from the camera; the root channel Z.</summary>
    public const string Depth = "depth";

    /// <summary>Ambient occlusion, which is best rendered in a layer of its own.</summary>
    public const string Occlusion = "ao";

    /// <summary>Light of what glows itself.</summary>
    public const string Emission = "emission";

    /// <summary>What is seen through glass or water.</summary>
    public const string Refraction = "refraction";

    /// <summary>Motion vectors.</summary>
    public const string Motion = "motion";

    /// <summary>Numbers of objects.</summary>
    public const string ObjectId = "object_id";

    /// <summary>Stem of the mattes.</summary>
    public const string Matte = "matte";

    /// <summary>Stem of the Cryptomattes.</summary>
    public const string Cryptomatte = "cryptomatte";

    /// <summary>Stem of the light groups.</summary>
    public const string LightGroup = "light_group";
}

namespace DuneCrate.Foundation.Passes;

/// <summary>
/// How finely a light pass splits the light, finest first; passes of one family sum to the beauty together. Common practice.
/// </summary>
public enum PassFamily
{
    /// <summary>Not a share of a split: goes with every family.</summary>
    Any,

    /// <summary>Direct and indirect light of each kind of surface apart.</summary>
    Fine,

    /// <summary>One pass for each kind of surface.</summary>
    Medium,

    /// <summary>Albedo and irradiance, whose product is the diffuse light.</summary>
    Factored,

    /// <summary>All direct light together, all indirect light together.</summary>
    Coarse,

    /// <summary>One pass for each lamp or set of lamps.</summary>
    LightGroups,
}

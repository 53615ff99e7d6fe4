namespace DuneCrate.Crates.Converting;

/// <summary>What is done to a colour with its alpha.</summary>
public enum AlphaStep
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>Straight becomes premultiplied: multiplied by alpha.</summary>
    Premultiply,

    /// <summary>Premultiplied becomes straight: divided by alpha; where alpha is 0 it stays as it is.</summary>
    Unpremultiply,
}

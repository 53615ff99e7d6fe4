namespace DuneCrate.Foundation.Passes;

/// <summary>What is measured of a pass while its pixels are read; rules ask for passes by it.</summary>
[Flags]
public enum PassMeasures
{
    /// <summary>Nothing but statistics of each channel.</summary>
    None = 0,

    /// <summary>Lone bright pixels.</summary>
    Fireflies = 1 << 0,

    /// <summary>A small picture for comparing neighbouring frames.</summary>
    Picture = 1 << 1,

    /// <summary>Whether colour is premultiplied by alpha.</summary>
    Alpha = 1 << 2,

    /// <summary>How much of the frame is covered.</summary>
    Coverage = 1 << 3,

    /// <summary>What the picture is where nothing happens: white for shadow and occlusion.</summary>
    Ground = 1 << 4,

    /// <summary>Distances: near, far, edges that were filtered.</summary>
    Depth = 1 << 5,

    /// <summary>Length of directions.</summary>
    Normal = 1 << 6,

    /// <summary>Texture coordinates outside their tile.</summary>
    TextureCoordinates = 1 << 7,

    /// <summary>Vectors that are 0 while the picture moves.</summary>
    Motion = 1 << 8,

    /// <summary>Numbers of objects.</summary>
    ObjectIds = 1 << 9,

    /// <summary>Flat colours of materials.</summary>
    MaterialColours = 1 << 10,

    /// <summary>Ranks of Cryptomatte: hashes and coverage.</summary>
    Cryptomatte = 1 << 11,

    /// <summary>Shines where the beauty's alpha is 0: what stands there is not taken for an alpha that is wrong.</summary>
    Glow = 1 << 12,
}

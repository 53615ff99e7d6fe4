namespace DuneCrate.Exr;

/// <summary>Which smaller versions of the picture a tiled part holds. Source: <em>OpenEXR File Layout</em>, tiledesc.</summary>
public enum ExrLevelMode : byte
{
    /// <summary>The picture alone.</summary>
    One = 0,

    /// <summary>The picture, half of it in both directions, and so on.</summary>
    Mipmap = 1,

    /// <summary>Every combination of halvings of width and height.</summary>
    Ripmap = 2,
}

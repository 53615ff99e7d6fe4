namespace DuneCrate.Foundation.Passes;

/// <summary>Where a pass lies among those of its layer in a composite, from the bottom. Common practice.</summary>
public enum StackPlace
{
    /// <summary>Not laid in: light passes rebuild the beauty, masks and data drive operations.</summary>
    None,

    /// <summary>Below the beauty: the shadow that the layer casts.</summary>
    Below,

    /// <summary>The finished picture.</summary>
    Base,

    /// <summary>Over the beauty: occlusion of what it belongs to.</summary>
    Above,
}

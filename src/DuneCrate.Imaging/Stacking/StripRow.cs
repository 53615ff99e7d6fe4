namespace DuneCrate.Imaging.Stacking;

/// <summary>One line of a strip as its files have it: colour in scene-linear light, alpha and mask 1 where there is none.</summary>
internal sealed class StripRow(int width)
{
    /// <summary>Red, green and blue.</summary>
    public float[][] Colour { get; } = [new float[width], new float[width], new float[width]];

    /// <summary>Alpha.</summary>
    public float[] Alpha { get; } = new float[width];

    /// <summary>What the mask lets through.</summary>
    public float[] Mask { get; } = new float[width];
}

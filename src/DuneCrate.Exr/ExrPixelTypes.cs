namespace DuneCrate.Exr;

/// <summary>Sizes of the pixel types.</summary>
public static class ExrPixelTypes
{
    /// <summary>Bytes of one sample.</summary>
    public static int Bytes(this ExrPixelType type) => type == ExrPixelType.Half ? 2 : 4;
}

using NetVips;

namespace DuneCrate.Core.Stacking;

/// <summary>A picture for people: width × height × 3 bytes, sRGB, row-major, top line first.</summary>
public sealed record Picture(int Width, int Height, byte[] Rgb)
{
    /// <summary>The picture as PNG, written by libvips.</summary>
    /// <param name="width">Width to shrink to, or 0 for the picture's own.</param>
    public byte[] ToPng(int width = 0)
    {
        using Image image = Image.NewFromMemory(Rgb, Width, Height, 3, Enums.BandFormat.Uchar);
        if (width <= 0 || width >= Width)
        {
            return image.PngsaveBuffer(compression: 1, filter: Enums.ForeignPngFilter.Sub);
        }

        using Image small = image.Resize((double)width / Width, kernel: Enums.Kernel.Linear);
        return small.PngsaveBuffer(compression: 1, filter: Enums.ForeignPngFilter.Sub);
    }
}

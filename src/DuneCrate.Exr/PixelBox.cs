namespace DuneCrate.Exr;

/// <summary>A rectangle of pixels; both corners belong to it, as in OpenEXR's box2i. Corners may be negative.</summary>
public readonly record struct PixelBox(int MinX, int MinY, int MaxX, int MaxY)
{
    /// <summary>Pixels across; 0 or less when the box is inside out.</summary>
    public long Width => (long)MaxX - MinX + 1;

    /// <summary>Lines; 0 or less when the box is inside out.</summary>
    public long Height => (long)MaxY - MinY + 1;

    /// <summary>Whether it holds no pixel.</summary>
    public bool IsEmpty => Width <= 0 || Height <= 0;

    /// <summary>The box of a picture of the given size at the origin.</summary>
    public static PixelBox OfSize(int width, int height) => new(0, 0, width - 1, height - 1);

    /// <summary>The box with a border of so many pixels around it.</summary>
    public PixelBox Grown(int border) => new(MinX - border, MinY - border, MaxX + border, MaxY + border);

    /// <summary>The pixels that both boxes hold; empty when there are none.</summary>
    public PixelBox Intersect(PixelBox other) =>
        new(Math.Max(MinX, other.MinX), Math.Max(MinY, other.MinY), Math.Min(MaxX, other.MaxX), Math.Min(MaxY, other.MaxY));

    /// <summary>Whether it holds every pixel of another box.</summary>
    public bool Covers(PixelBox other) => MinX <= other.MinX && MinY <= other.MinY && MaxX >= other.MaxX && MaxY >= other.MaxY;

    /// <summary>Whether it holds the pixel.</summary>
    public bool Contains(int x, int y) => x >= MinX && x <= MaxX && y >= MinY && y <= MaxY;

    /// <summary>The smallest box around this one and the pixel; an empty box is replaced.</summary>
    public PixelBox With(int x, int y) =>
        IsEmpty ? new PixelBox(x, y, x, y) : new PixelBox(Math.Min(MinX, x), Math.Min(MinY, y), Math.Max(MaxX, x), Math.Max(MaxY, y));
}

using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Imaging.Stacking;

/// <summary>One frame of a composite: red, green, blue and alpha, width × height floats each, row-major, colour times alpha.</summary>
/// <param name="Width">Pixels across.</param>
/// <param name="Height">Pixels down.</param>
/// <param name="Planes">The four planes.</param>
/// <param name="Problems">What could not be laid in, a sentence each.</param>
public sealed record StackedFrame(int Width, int Height, float[][] Planes, ImmutableArray<string> Problems)
{
    private static readonly string[] Names = ["R", "G", "B", "A"];

    /// <summary>As an OpenEXR image of float samples.</summary>
    /// <param name="attributes">What stands in its header beside what must.</param>
    public ExrImage ToExr(params IEnumerable<ExrAttribute> attributes)
    {
        PixelBox window = PixelBox.OfSize(Width, Height);
        var part = new ExrPart(
            Names.Select(n => new ExrChannel(n, ExrPixelType.Float)),
            window,
            window,
            ExrCompression.Find("zip")!,
            attributes
        );
        return new ExrImage(part, Names.Index().ToImmutableDictionary(n => n.Item, n => Planes[n.Index]));
    }

    /// <summary>As pixels to be shown.</summary>
    public PassPixels ToPixels() =>
        new(
            PassKeys.Beauty,
            PassCatalogue.Shipped.Find(PassKeys.Beauty),
            PixelBox.OfSize(Width, Height),
            1,
            [.. Names.Index().Select(n => (n.Item, Planes[n.Index]))],
            null
        );
}

using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Foundation.Frames;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Imaging.Stacking;

/// <summary>What a composite does that may not be meant: rates and ranges that differ, alpha read the wrong way, shared soft
/// edges.</summary>
public static class StackAdvice
{
    private const double LeastShare = 1e-4;

    /// <summary>What the files' rates and frames do, a sentence without its point each.</summary>
    /// <param name="recipe">The composite.</param>
    /// <param name="framesOf">The frames that the files of a strip have; null when that is not known.</param>
    public static ImmutableArray<(string Strip, string Words)> OfRanges(StackRecipe recipe, Func<StackStrip, FrameSet?> framesOf)
    {
        var told = ImmutableArray.CreateBuilder<(string, string)>();
        foreach (StackStrip strip in recipe.Strips)
        {
            if (strip.FrameRate is { } own && recipe.FrameRate is { } played && RateDifference.Tell(own, played) is { } rate)
            {
                told.Add((strip.Name, rate));
            }

            if (strip.Hold is null && recipe.Frames is { IsEmpty: false } frames && framesOf(strip) is { IsEmpty: false } there)
            {
                FrameSet gone = FrameSet.From(frames.Where(f => !there.Contains(strip.FrameAt(f))));
                if (!gone.IsEmpty)
                {
                    told.Add((strip.Name, $"it has no frame for {gone}: there it is left out"));
                }
            }
        }

        return told.ToImmutable();
    }

    /// <summary>What the pixels of a frame say.</summary>
    /// <param name="strips">The strips from the bottom with their pixels; those that are not seen may be left out.</param>
    public static ImmutableArray<(string Strip, string Words)> OfPixels(IReadOnlyList<(StackStrip Strip, StripPixels Pixels)> strips)
    {
        var told = ImmutableArray.CreateBuilder<(string, string)>();
        foreach ((StackStrip strip, StripPixels pixels) in strips)
        {
            if (pixels.Rim(strip.Alpha) is { } rim)
            {
                told.Add((strip.Name, rim));
            }
        }

        (StackStrip Strip, StripPixels Pixels)[] laid =
        [
            .. strips.Where(s =>
                s.Strip is { Operation: StackOperation.Over, Opacity: > 0, Look: null }
                && s.Strip.Alpha != AlphaMode.None
                && !s.Pixels.Alpha.IsEmpty
            ),
        ];
        for (int upper = 1; upper < laid.Length; upper++)
        {
            for (int lower = 0; lower < upper; lower++)
            {
                if (SharedEdge(laid[lower].Pixels, laid[upper].Pixels) is > LeastShare and var share)
                {
                    told.Add(
                        (
                            laid[upper].Strip.Name,
                            string.Create(
                                CultureInfo.InvariantCulture,
                                $"it shares soft edges with {laid[lower].Strip.Name} in {100 * share:0.##} % of the picture: layers "
                                    + $"that hold each other out come out a little dark there"
                            )
                        )
                    );
                }
            }
        }

        return told.ToImmutable();
    }

    /// <summary>Share of the pixels where both are soft and no more than solid together, as layers that hold each other out are.</summary>
    private static double SharedEdge(StripPixels lower, StripPixels upper)
    {
        ReadOnlySpan<float> a = lower.Alpha,
            b = upper.Alpha;
        if (a.Length != b.Length)
        {
            return 0;
        }

        int shared = 0;
        for (int i = 0; i < a.Length; i++)
        {
            shared += SoftAlpha.IsSoft(a[i]) && SoftAlpha.IsSoft(b[i]) && a[i] + b[i] <= 1.001f ? 1 : 0;
        }

        return shared / (double)Math.Max(1, a.Length);
    }
}

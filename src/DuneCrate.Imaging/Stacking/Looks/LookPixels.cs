using System.Numerics.Tensors;

namespace DuneCrate.Imaging.Stacking.Looks;

/// <summary>Does a look to all that lies below it.</summary>
internal static class LookPixels
{
    /// <summary>Changes the planes.</summary>
    /// <param name="strip">The strip that has the look.</param>
    /// <param name="pixels">Its pass.</param>
    /// <param name="below">Red, green, blue and alpha of what lies below, width × height floats each; becomes the result.</param>
    /// <param name="shrink">Pixels of the full picture that one sample stands for.</param>
    /// <param name="cancel">Stops.</param>
    public static void Apply(StackStrip strip, StripPixels pixels, float[][] below, int shrink, CancellationToken cancel)
    {
        StripLook look = strip.Look!;
        float[][] changed = look.Kind switch
        {
            LookKind.Glow => Glow(strip, pixels, below, shrink, cancel),
            LookKind.Fog => Fog(look, pixels, below),
            LookKind.Focus => Focus(look, pixels, below, cancel),
            LookKind.Relight => Relight(strip, pixels, below),
            _ => MotionBlur.Of(
                below,
                Scaled(pixels.Colour(0), 1f / shrink),
                Scaled(pixels.Colour(1), 1f / shrink),
                (float)look.Shutter,
                pixels.Width,
                cancel
            ),
        };
        for (int c = 0; c < 4; c++)
        {
            Mix(below[c], changed[c], pixels.Mask, (float)strip.Opacity);
        }
    }

    /// <summary>The circles of confusion of a focus, in samples.</summary>
    public static float[] Circles(StripLook look, StripPixels depth)
    {
        float[] circles = new float[depth.Width * depth.Height];
        ThinLens.Circles(look, depth.Colour(0), depth.Width, circles);
        return circles;
    }

    private static float[][] Glow(StackStrip strip, StripPixels pixels, float[][] below, int shrink, CancellationToken cancel)
    {
        float gain = (float)Math.Pow(2, strip.Gain);
        float[][] to = [.. below.Select(b => b.ToArray())];
        for (int c = 0; c < 3; c++)
        {
            float[] spread = GaussianBlur.Of(pixels.Colour(c).ToArray(), pixels.Width, strip.Look!.Radius / 2 / shrink, cancel);
            TensorPrimitives.MultiplyAdd(spread, gain, to[c], to[c]);
        }

        return to;
    }

    /// <summary>Light that is left falls by half over each distance; what is lost is the fog's, as far as there is anything.</summary>
    private static float[][] Fog(StripLook look, StripPixels depth, float[][] below)
    {
        ReadOnlySpan<float> distance = depth.Colour(0);
        float[] left = new float[distance.Length];
        for (int i = 0; i < left.Length; i++)
        {
            float d = distance[i] - (float)look.Near;
            left[i] = d <= 0 ? 1 : MathF.Pow(2, -d / (float)look.Half);
        }

        float[][] to = [.. below.Select(b => b.ToArray())];
        for (int c = 0; c < 3; c++)
        {
            float colour = (float)look.Colour[c];
            for (int i = 0; i < left.Length; i++)
            {
                to[c][i] = below[c][i] * left[i] + below[3][i] * colour * (1 - left[i]);
            }
        }

        return to;
    }

    private static float[][] Focus(StripLook look, StripPixels depth, float[][] below, CancellationToken cancel) =>
        LensBlur.Of(below, depth.Colour(0).ToArray(), Circles(look, depth), depth.Width, cancel);

    /// <summary>A lamp's light is in what lies below once: the rest of what it is multiplied by is added.</summary>
    private static float[][] Relight(StackStrip strip, StripPixels light, float[][] below)
    {
        double gain = Math.Pow(2, strip.Gain);
        float[][] to = [.. below.Select(b => b.ToArray())];
        for (int c = 0; c < 3; c++)
        {
            TensorPrimitives.MultiplyAdd(light.Colour(c), (float)(gain * strip.Look!.Colour[c] - 1), to[c], to[c]);
        }

        return to;
    }

    private static float[] Scaled(ReadOnlySpan<float> plane, float by)
    {
        float[] scaled = new float[plane.Length];
        TensorPrimitives.Multiply(plane, by, scaled);
        return scaled;
    }

    private static void Mix(float[] below, float[] changed, ReadOnlySpan<float> mask, float opacity)
    {
        if (mask.IsEmpty && opacity == 1)
        {
            changed.CopyTo(below, 0);
            return;
        }

        for (int i = 0; i < below.Length; i++)
        {
            float w = mask.IsEmpty ? opacity : opacity * mask[i];
            below[i] += w * (changed[i] - below[i]);
        }
    }
}

namespace DuneCrate.Imaging.Stacking.Looks;

/// <summary>
/// Motion vectors as blur: each sample is the mean of what lies along its own vector, half before it and half behind. Edges of what moves
/// stay where they are, which is what vectors alone can give.
/// </summary>
internal static class MotionBlur
{
    private const int MostSteps = 64;

    /// <summary>Blurs the planes.</summary>
    /// <param name="planes">Red, green, blue and alpha.</param>
    /// <param name="x">Movement across in samples a frame.</param>
    /// <param name="y">Movement down.</param>
    /// <param name="shutter">Share of the frame that the shutter is open.</param>
    /// <param name="width">Samples across.</param>
    /// <param name="cancel">Stops.</param>
    public static float[][] Of(float[][] planes, float[] x, float[] y, float shutter, int width, CancellationToken cancel)
    {
        int height = x.Length / width;
        float[][] to = [.. planes.Select(p => new float[p.Length])];
        Parallel.For(
            0,
            height,
            new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = Environment.ProcessorCount },
            row =>
            {
                for (int column = 0, at = row * width; column < width; column++, at++)
                {
                    (float dx, float dy) = (x[at] * shutter, y[at] * shutter);
                    float length = MathF.Sqrt(dx * dx + dy * dy);
                    int steps = float.IsFinite(length) ? Math.Clamp((int)MathF.Ceiling(length), 0, MostSteps) : 0;
                    for (int s = 0; s <= steps; s++)
                    {
                        float share = steps == 0 ? 0 : (float)s / steps - 0.5f;
                        int px = Math.Clamp((int)MathF.Round(column + share * dx), 0, width - 1),
                            py = Math.Clamp((int)MathF.Round(row + share * dy), 0, height - 1);
                        for (int c = 0; c < planes.Length; c++)
                        {
                            to[c][at] += planes[c][py * width + px] / (steps + 1);
                        }
                    }
                }
            }
        );
        return to;
    }
}

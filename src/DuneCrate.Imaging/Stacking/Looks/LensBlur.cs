namespace DuneCrate.Imaging.Stacking.Looks;

/// <summary>
/// Focus from depth, gathered: each sample takes from those around it whose circle of confusion reaches it, each as thin as its circle is
/// large. What lies behind a sharp edge does not bleed over it.
/// </summary>
internal static class LensBlur
{
    private const int Taps = 113,
        TileSide = 16,
        MostRadius = 64;
    private const double GoldenAngle = 2.39996322972865332;

    private static readonly (float X, float Y)[] Spiral =
    [
        .. Enumerable
            .Range(0, Taps)
            .Select(i =>
                (
                    (float)(Math.Sqrt((i + 0.5) / Taps) * Math.Cos(i * GoldenAngle)),
                    (float)(Math.Sqrt((i + 0.5) / Taps) * Math.Sin(i * GoldenAngle))
                )
            ),
    ];

    /// <summary>Blurs the planes.</summary>
    /// <param name="planes">Red, green, blue and alpha.</param>
    /// <param name="depth">Distances.</param>
    /// <param name="circles">Diameters of the circles of confusion in samples.</param>
    /// <param name="width">Samples across.</param>
    /// <param name="cancel">Stops.</param>
    public static float[][] Of(float[][] planes, float[] depth, float[] circles, int width, CancellationToken cancel)
    {
        int height = circles.Length / width;
        float[] reach = Reach(circles, width, height, out int tiles);
        float[][] to = [.. planes.Select(p => new float[p.Length])];
        Parallel.For(
            0,
            height,
            new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = Environment.ProcessorCount },
            y =>
            {
                for (int x = 0; x < width; x++)
                {
                    float radius = reach[y / TileSide * tiles + x / TileSide];
                    Gather(planes, depth, circles, width, height, x, y, radius, to);
                }
            }
        );
        return to;
    }

    private static void Gather(
        float[][] planes,
        float[] depth,
        float[] circles,
        int width,
        int height,
        int x,
        int y,
        float radius,
        float[][] to
    )
    {
        int here = y * width + x;
        if (radius <= 0.5f)
        {
            for (int c = 0; c < planes.Length; c++)
            {
                to[c][here] = planes[c][here];
            }

            return;
        }

        float own = MathF.Min(circles[here] / 2, MostRadius),
            weight = 1 / MathF.Max(1, MathF.PI * own * own),
            tap = MathF.PI * radius * radius / Taps,
            total = weight,
            red = weight * planes[0][here],
            green = weight * planes[1][here],
            blue = weight * planes[2][here],
            alpha = weight * planes[3][here];
        foreach ((float dx, float dy) in Spiral)
        {
            int px = (int)MathF.Round(x + dx * radius),
                py = (int)MathF.Round(y + dy * radius);
            if ((uint)px >= (uint)width || (uint)py >= (uint)height || (px == x && py == y))
            {
                continue;
            }

            int there = py * width + px;
            float spread = MathF.Min(circles[there] / 2, MostRadius);
            spread = depth[there] > depth[here] ? MathF.Min(spread, own) : spread;
            float distance = radius * MathF.Sqrt(dx * dx + dy * dy);
            if (spread + 0.5f < distance)
            {
                continue;
            }

            float w = tap / MathF.Max(1, MathF.PI * spread * spread);
            total += w;
            red += w * planes[0][there];
            green += w * planes[1][there];
            blue += w * planes[2][there];
            alpha += w * planes[3][there];
        }

        (to[0][here], to[1][here], to[2][here], to[3][here]) = (red / total, green / total, blue / total, alpha / total);
    }

    /// <summary>By tile: the greatest radius of its samples and of those that could reach it.</summary>
    private static float[] Reach(float[] circles, int width, int height, out int across)
    {
        int tilesAcross = (width + TileSide - 1) / TileSide,
            tilesDown = (height + TileSide - 1) / TileSide;
        float[] own = new float[tilesAcross * tilesDown];
        for (int i = 0; i < circles.Length; i++)
        {
            int tile = i / width / TileSide * tilesAcross + i % width / TileSide;
            own[tile] = MathF.Max(own[tile], MathF.Min(circles[i] / 2, MostRadius));
        }

        const int around = MostRadius / TileSide + 1;
        float[] reach = new float[own.Length];
        for (int t = 0; t < own.Length; t++)
        {
            (int ty, int tx) = Math.DivRem(t, tilesAcross);
            for (int y = Math.Max(0, ty - around); y <= Math.Min(tilesDown - 1, ty + around); y++)
            {
                for (int x = Math.Max(0, tx - around); x <= Math.Min(tilesAcross - 1, tx + around); x++)
                {
                    // A tile so many away begins at least one less of their sides away.
                    int apart = Math.Max(0, (Math.Max(Math.Abs(x - tx), Math.Abs(y - ty)) - 1) * TileSide);
                    float there = own[y * tilesAcross + x];
                    reach[t] = there >= apart ? MathF.Max(reach[t], there) : reach[t];
                }
            }
        }

        across = tilesAcross;
        return reach;
    }
}

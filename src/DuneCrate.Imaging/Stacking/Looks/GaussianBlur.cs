using System.Numerics.Tensors;

namespace DuneCrate.Imaging.Stacking.Looks;

/// <summary>Blurs planes by a Gaussian, across and then down; beyond the edges is nothing.</summary>
internal static class GaussianBlur
{
    /// <summary>Blurs a plane.</summary>
    /// <param name="plane">Row-major floats.</param>
    /// <param name="width">Samples across.</param>
    /// <param name="sigma">Standard deviation in samples; 0 leaves it as it is.</param>
    /// <param name="cancel">Stops.</param>
    public static float[] Of(ReadOnlyMemory<float> plane, int width, double sigma, CancellationToken cancel)
    {
        if (sigma <= 0.1)
        {
            return plane.ToArray();
        }

        int height = plane.Length / width,
            reach = (int)Math.Ceiling(3 * sigma);
        float[] weights = [.. Enumerable.Range(-reach, 2 * reach + 1).Select(i => (float)Math.Exp(-i * i / (2 * sigma * sigma)))];
        float sum = weights.Sum();
        TensorPrimitives.Divide(weights, sum, weights);
        float[] across = new float[plane.Length],
            down = new float[plane.Length];
        var options = new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = Environment.ProcessorCount };
        Parallel.For(
            0,
            height,
            options,
            y =>
            {
                ReadOnlySpan<float> line = plane.Span.Slice(y * width, width);
                Span<float> to = across.AsSpan(y * width, width);
                for (int i = -reach; i <= reach; i++)
                {
                    int from = Math.Max(0, i),
                        at = Math.Max(0, -i),
                        count = width - Math.Abs(i);
                    if (count > 0)
                    {
                        TensorPrimitives.MultiplyAdd(line.Slice(from, count), weights[i + reach], to.Slice(at, count), to.Slice(at, count));
                    }
                }
            }
        );
        Parallel.For(
            0,
            height,
            options,
            y =>
            {
                Span<float> to = down.AsSpan(y * width, width);
                for (int i = Math.Max(-reach, -y); i <= Math.Min(reach, height - 1 - y); i++)
                {
                    TensorPrimitives.MultiplyAdd(across.AsSpan((y + i) * width, width), weights[i + reach], to, to);
                }
            }
        );
        return down;
    }
}

namespace DuneCrate.Core.Stacking;

/// <summary>
/// Lays one line of a strip onto the line below it, in scene-linear floats. S is the strip's colour times its alpha α, B and β what is
/// below, w the weight (opacity × mask). Formulas: <c>dune-crate.stack/1</c>.
/// </summary>
internal static class StripBlend
{
    /// <summary>Lays a line in.</summary>
    /// <param name="operation">How.</param>
    /// <param name="below">Red, green, blue and alpha of what is below; becomes the result.</param>
    /// <param name="strip">Red, green and blue of the strip, times its alpha.</param>
    /// <param name="alpha">Its alpha.</param>
    /// <param name="weight">Its weight.</param>
    public static void Line(StackOperation operation, float[][] below, float[][] strip, float[] alpha, float[] weight)
    {
        for (int c = 0; c < 3; c++)
        {
            Colour(operation, below[c], strip[c], below[3], alpha, weight);
        }

        Alpha(operation, below[3], alpha, weight);
    }

    private static void Colour(StackOperation operation, Span<float> b, Span<float> s, Span<float> beta, Span<float> a, Span<float> w)
    {
        int n = b.Length;
        s = s[..n];
        beta = beta[..n];
        a = a[..n];
        w = w[..n];
        switch (operation)
        {
            case StackOperation.Over:
                for (int i = 0; i < n; i++)
                {
                    b[i] = s[i] * w[i] + b[i] * (1 - a[i] * w[i]);
                }

                break;
            case StackOperation.Under:
                for (int i = 0; i < n; i++)
                {
                    b[i] += s[i] * w[i] * (1 - beta[i]);
                }

                break;
            case StackOperation.Plus:
                for (int i = 0; i < n; i++)
                {
                    b[i] += s[i] * w[i];
                }

                break;
            case StackOperation.Multiply:
                for (int i = 0; i < n; i++)
                {
                    b[i] *= 1 - w[i] + w[i] * (s[i] + 1 - a[i]);
                }

                break;
            case StackOperation.Screen:
                for (int i = 0; i < n; i++)
                {
                    b[i] += w[i] * s[i] - w[i] * s[i] * b[i];
                }

                break;
            case StackOperation.Minimum:
                for (int i = 0; i < n; i++)
                {
                    b[i] = b[i] * (1 - w[i]) + w[i] * MathF.Min(b[i], s[i]);
                }

                break;
            case StackOperation.Maximum:
                for (int i = 0; i < n; i++)
                {
                    b[i] = b[i] * (1 - w[i]) + w[i] * MathF.Max(b[i], s[i]);
                }

                break;
            case StackOperation.Difference:
                for (int i = 0; i < n; i++)
                {
                    b[i] = b[i] * (1 - w[i]) + w[i] * MathF.Abs(b[i] - s[i]);
                }

                break;
            default:
                Cut(operation, b, a, w);
                break;
        }
    }

    /// <summary>Cuts away or keeps; the same for colour and alpha.</summary>
    private static void Cut(StackOperation operation, Span<float> b, Span<float> a, Span<float> w)
    {
        for (int i = 0; i < b.Length; i++)
        {
            b[i] *= operation == StackOperation.Holdout ? 1 - a[i] * w[i] : 1 - w[i] + a[i] * w[i];
        }
    }

    private static void Alpha(StackOperation operation, Span<float> beta, Span<float> a, Span<float> w)
    {
        switch (operation)
        {
            case StackOperation.Over:
                for (int i = 0; i < beta.Length; i++)
                {
                    beta[i] = a[i] * w[i] + beta[i] * (1 - a[i] * w[i]);
                }

                break;
            case StackOperation.Under:
                for (int i = 0; i < beta.Length; i++)
                {
                    beta[i] += a[i] * w[i] * (1 - beta[i]);
                }

                break;
            case StackOperation.Holdout or StackOperation.Keep:
                Cut(operation, beta, a, w);
                break;
        }
    }
}

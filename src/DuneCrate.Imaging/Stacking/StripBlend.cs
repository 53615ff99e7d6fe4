using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace DuneCrate.Imaging.Stacking;

/// <summary>
/// Lays one line of a strip onto the line below it, in scene-linear floats. S is the strip's colour times its alpha α, B and β what is
/// below, w the weight (opacity × mask). Formulas: <c>dune-crate.stack/1</c>. One thread at a time.
/// </summary>
internal sealed class StripBlend(int width)
{
    private readonly float[] _share = new float[width],
        _light = new float[width];

    /// <summary>Lays a line in.</summary>
    /// <param name="operation">How.</param>
    /// <param name="below">Red, green, blue and alpha of what is below; becomes the result.</param>
    /// <param name="strip">Red, green and blue of the strip, times its alpha.</param>
    /// <param name="alpha">Its alpha.</param>
    /// <param name="weight">Its weight.</param>
    /// <param name="isWhole">Whether the weight is 1 everywhere.</param>
    public void Line(StackOperation operation, float[][] below, float[][] strip, float[] alpha, float[] weight, bool isWhole)
    {
        if (operation == StackOperation.Over && isWhole)
        {
            Over(below, new KeptLine(strip, alpha, 0));
            return;
        }

        Share(operation, below[3], alpha, weight);
        for (int c = 0; c < 3; c++)
        {
            Colour(operation, below[c], strip[c], alpha, weight);
        }

        Alpha(operation, below[3], alpha, weight);
    }

    /// <summary>Lays in a line with a weight of 1 from where it is kept; false where the operation must have a copy.</summary>
    public static bool TryLine(StackOperation operation, float[][] below, in KeptLine strip)
    {
        switch (operation)
        {
            case StackOperation.Over:
                Over(below, strip);
                return true;
            case StackOperation.Plus:
                Plus(below, strip);
                return true;
            default:
                return false;
        }
    }

    /// <summary>The commonest of all, in one go over the line: a strip laid over what is below with a weight of 1.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Over(float[][] below, in KeptLine strip)
    {
        (float[] r, float[] g, float[] b, float[] beta) = (below[0], below[1], below[2], below[3]);
        (float[] sr, float[] sg, float[] sb, float[] alpha) = (strip.Colour[0], strip.Colour[1], strip.Colour[2], strip.Alpha);
        int i = 0;
        for (int s = strip.From; i <= r.Length - Vector256<float>.Count; i += Vector256<float>.Count, s += Vector256<float>.Count)
        {
            Vector256<float> a = Vector256.Create(alpha, s),
                rest = Vector256<float>.One - a;
            (Vector256.Create(r, i) * rest + Vector256.Create(sr, s)).CopyTo(r, i);
            (Vector256.Create(g, i) * rest + Vector256.Create(sg, s)).CopyTo(g, i);
            (Vector256.Create(b, i) * rest + Vector256.Create(sb, s)).CopyTo(b, i);
            (Vector256.Create(beta, i) * rest + a).CopyTo(beta, i);
        }

        for (; i < r.Length; i++)
        {
            int s = strip.From + i;
            float rest = 1 - alpha[s];
            r[i] = r[i] * rest + sr[s];
            g[i] = g[i] * rest + sg[s];
            b[i] = b[i] * rest + sb[s];
            beta[i] = beta[i] * rest + alpha[s];
        }
    }

    /// <summary>Adds a strip with a weight of 1.</summary>
    private static void Plus(float[][] below, in KeptLine strip)
    {
        for (int c = 0; c < 3; c++)
        {
            TensorPrimitives.Add(below[c], strip.Colour[c].AsSpan(strip.From, below[c].Length), below[c]);
        }
    }

    /// <summary>What is the same for all three colours: the share of what is below that stays, or of the strip that is seen.</summary>
    private void Share(StackOperation operation, ReadOnlySpan<float> beta, ReadOnlySpan<float> a, ReadOnlySpan<float> w)
    {
        switch (operation)
        {
            case StackOperation.Over or StackOperation.Holdout:
                TensorPrimitives.Multiply(a, w, _share);
                TensorPrimitives.Subtract(1, _share, _share);
                break;
            case StackOperation.Under:
                TensorPrimitives.Subtract(1, beta, _share);
                TensorPrimitives.Multiply(_share, w, _share);
                break;
            case StackOperation.Keep:
                TensorPrimitives.Subtract(a, 1, _share);
                TensorPrimitives.MultiplyAdd(_share, w, 1, _share);
                break;
            case StackOperation.Minimum or StackOperation.Maximum or StackOperation.Difference:
                TensorPrimitives.Subtract(1, w, _share);
                break;
        }
    }

    private void Colour(StackOperation operation, Span<float> b, ReadOnlySpan<float> s, ReadOnlySpan<float> a, ReadOnlySpan<float> w)
    {
        switch (operation)
        {
            case StackOperation.Over:
                TensorPrimitives.Multiply(s, w, _light);
                TensorPrimitives.MultiplyAdd(b, _share, _light, b);
                break;
            case StackOperation.Under:
                TensorPrimitives.MultiplyAdd(s, _share, b, b);
                break;
            case StackOperation.Plus:
                TensorPrimitives.MultiplyAdd(s, w, b, b);
                break;
            case StackOperation.Multiply:
                // 1 − w + w·(S + 1 − α) is 1 + w·(S − α).
                TensorPrimitives.Subtract(s, a, _light);
                TensorPrimitives.MultiplyAdd(_light, w, 1, _light);
                TensorPrimitives.Multiply(b, _light, b);
                break;
            case StackOperation.Screen:
                TensorPrimitives.Multiply(s, w, _light);
                TensorPrimitives.Subtract(1, b, _share);
                TensorPrimitives.MultiplyAdd(_light, _share, b, b);
                break;
            case StackOperation.Minimum:
                TensorPrimitives.Min(b, s, _light);
                Mix(b, w);
                break;
            case StackOperation.Maximum:
                TensorPrimitives.Max(b, s, _light);
                Mix(b, w);
                break;
            case StackOperation.Difference:
                TensorPrimitives.Subtract(b, s, _light);
                TensorPrimitives.Abs<float>(_light, _light);
                Mix(b, w);
                break;
            default:
                TensorPrimitives.Multiply(b, _share, b);
                break;
        }
    }

    private void Mix(Span<float> b, ReadOnlySpan<float> w)
    {
        TensorPrimitives.Multiply(_light, w, _light);
        TensorPrimitives.MultiplyAdd(b, _share, _light, b);
    }

    private void Alpha(StackOperation operation, Span<float> beta, ReadOnlySpan<float> a, ReadOnlySpan<float> w)
    {
        switch (operation)
        {
            case StackOperation.Over:
                TensorPrimitives.Multiply(a, w, _light);
                TensorPrimitives.MultiplyAdd(beta, _share, _light, beta);
                break;
            case StackOperation.Under:
                TensorPrimitives.MultiplyAdd(a, _share, beta, beta);
                break;
            case StackOperation.Holdout or StackOperation.Keep:
                TensorPrimitives.Multiply(beta, _share, beta);
                break;
        }
    }
}

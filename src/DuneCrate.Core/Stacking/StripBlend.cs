using System.Numerics.Tensors;

namespace DuneCrate.Core.Stacking;

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
    public void Line(StackOperation operation, float[][] below, float[][] strip, float[] alpha, float[] weight)
    {
        Share(operation, below[3], alpha, weight);
        for (int c = 0; c < 3; c++)
        {
            Colour(operation, below[c], strip[c], alpha, weight);
        }

        Alpha(operation, below[3], alpha, weight);
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

using System.Numerics.Tensors;

namespace DuneCrate.Core.Stacking;

/// <summary>
/// Measures beauty − Σ terms line by line. The caller gives, for each colour, the beauty's line and the terms' lines.
/// One instance per picture; not shared between threads.
/// </summary>
public sealed class RebuildMeasure
{
    /// <summary>A pixel is off when a colour differs by more than this share …</summary>
    public const float OffShareOfValue = 0.02f;

    /// <summary>… of the beauty, or of this value where the beauty is darker.</summary>
    public const float OffFloor = 0.05f;

    private readonly RebuildRecipe _recipe;
    private readonly float[] _sum, _residual;
    private readonly bool[] _off;
    private readonly double[] _termSum, _termDot, _termSquares;
    private double _residualSum, _beautySum, _residualSquares, _max;
    private long _pixels, _offPixels;
    private (int X, int Y)? _worst;

    /// <summary>Makes a measure for lines of a width.</summary>
    public RebuildMeasure(RebuildRecipe recipe, int width)
    {
        _recipe = recipe;
        (_sum, _residual, _off) = (new float[width], new float[width], new bool[width]);
        (_termSum, _termDot, _termSquares) = (new double[recipe.Terms.Length], new double[recipe.Terms.Length], new double[recipe.Terms.Length]);
    }

    /// <summary>Takes one line: <paramref name="beauty"/>[colour] and <paramref name="terms"/>[term][colour], each of the measure's width.</summary>
    public void AddLine(float[][] beauty, float[][][] terms, int x, int y)
    {
        bool anyOff = false;
        for (int colour = 0; colour < beauty.Length; colour++)
        {
            terms[0][colour].CopyTo(_sum, 0);
            for (int t = 1; t < terms.Length; t++)
            {
                TensorPrimitives.Add(_sum, terms[t][colour], _sum);
            }

            TensorPrimitives.Subtract(beauty[colour], _sum, _residual);
            float largest = TensorPrimitives.MaxMagnitude<float>(_residual);
            if (!float.IsFinite(largest))
            {
                for (int i = 0; i < _residual.Length; i++)
                {
                    _residual[i] = float.IsFinite(_residual[i]) ? _residual[i] : 0;
                }

                largest = TensorPrimitives.MaxMagnitude<float>(_residual);
            }

            float light = TensorPrimitives.SumOfMagnitudes<float>(beauty[colour]);
            _beautySum += float.IsFinite(light) ? light : 0;
            _residualSum += TensorPrimitives.SumOfMagnitudes<float>(_residual);
            for (int t = 0; t < terms.Length; t++)
            {
                float sum = TensorPrimitives.Sum<float>(terms[t][colour]);
                _termSum[t] += float.IsFinite(sum) ? sum : 0;
            }

            if (largest < 0 ? -largest > OffShareOfValue * OffFloor : largest > OffShareOfValue * OffFloor)
            {
                anyOff |= NoteOff(beauty[colour], terms, colour, x, y);
            }
        }

        _pixels += _off.Length;
        if (anyOff)
        {
            _offPixels += _off.Count(o => o);
            Array.Clear(_off);
        }
    }

    private bool NoteOff(float[] beauty, float[][][] terms, int colour, int x, int y)
    {
        bool any = false;
        for (int i = 0; i < _residual.Length; i++)
        {
            float off = MathF.Abs(_residual[i]);
            if (off > OffShareOfValue * MathF.Max(beauty[i], OffFloor))
            {
                any = _off[i] = true;
            }

            if (off > _max)
            {
                (_max, _worst) = (off, (x + i, y));
            }
        }

        _residualSquares += TensorPrimitives.SumOfSquares<float>(_residual);
        for (int t = 0; t < terms.Length; t++)
        {
            float dot = TensorPrimitives.Dot<float>(_residual, terms[t][colour]), squares = TensorPrimitives.SumOfSquares<float>(terms[t][colour]);
            if (float.IsFinite(dot) && float.IsFinite(squares))
            {
                _termDot[t] += dot;
                _termSquares[t] += squares;
            }
        }

        return any;
    }

    /// <summary>The result.</summary>
    public RebuildFacts Finish() => new()
    {
        MeanResidual = _beautySum > 0 ? Math.Min(1, _residualSum / _beautySum) : _residualSum > 0 ? 1 : 0,
        OffShare = _pixels > 0 ? (double)_offPixels / _pixels : 0,
        MaxResidual = _max,
        Worst = _worst is { } worst ? [worst.X, worst.Y] : null,
        Terms =
        [
            .. _recipe.Terms.Select((term, t) => new RebuildTermFacts(
                term.Name, _pixels > 0 ? _termSum[t] / (3 * _pixels) : 0,
                _termSquares[t] > 0 && _residualSquares > 0 ? _termDot[t] / Math.Sqrt(_termSquares[t] * _residualSquares) : 0)),
        ],
    };
}

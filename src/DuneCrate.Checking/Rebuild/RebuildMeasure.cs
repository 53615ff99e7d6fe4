using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace DuneCrate.Checking.Rebuild;

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
    private readonly RebuildFit _fit;
    private readonly float[] _residual;
    private readonly int[] _off;
    private readonly bool _sumTerms,
        _fitsAll;
    private readonly double[] _termSum;
    private double _residualSum,
        _beautySum,
        _max;
    private long _pixels,
        _offPixels;
    private (int X, int Y)? _worst;

    /// <summary>Makes a measure for lines of a width.</summary>
    /// <param name="recipe">What sums to what.</param>
    /// <param name="width">Pixels of a line.</param>
    /// <param name="sumTerms">Whether the means of terms are wanted; without, they are 0.</param>
    /// <param name="fitsAll">Whether every line is fitted; else some of those that are off, which is enough for a cause.</param>
    public RebuildMeasure(RebuildRecipe recipe, int width, bool sumTerms = true, bool fitsAll = false)
    {
        _fitsAll = fitsAll;
        _recipe = recipe;
        _fit = new RebuildFit(recipe, isThinned: !fitsAll);
        _sumTerms = sumTerms;
        (_residual, _off) = (new float[width], new int[width]);
        _termSum = new double[recipe.Terms.Length];
    }

    /// <summary>
    /// Takes one line: the beauty's values by colour and <paramref name="terms"/>[term][colour], each of the measure's width; and, where
    /// terms are
    /// products, <paramref name="factors"/>[term][factor][colour], or null when swapped factors are not looked for.
    /// </summary>
    public void AddLine(float[][] beauty, float[][][] terms, int x, int y, float[][][][]? factors = null)
    {
        bool anyOff = false;
        for (int colour = 0; colour < beauty.Length; colour++)
        {
            bool isOff = Subtract(new FloatRebuildLines(beauty[colour], terms, colour), x, y);
            for (int t = 0; _sumTerms && t < terms.Length; t++)
            {
                float sum = TensorPrimitives.Sum<float>(terms[t][colour]);
                _termSum[t] += float.IsFinite(sum) ? sum : 0;
            }

            anyOff |= isOff;
            if (isOff)
            {
                AddOff(beauty[colour], terms, colour, factors);
            }
            else if (_fitsAll)
            {
                _fit.AddLine(beauty[colour], terms, colour, _residual, factors);
            }
        }

        EndLine(anyOff);
    }

    /// <summary>Takes a colour of a line in which <see cref="Subtract"/> found a pixel off.</summary>
    internal void AddOff(float[] beauty, float[][][] terms, int colour, float[][][][]? factors = null)
    {
        NoteOff(beauty);
        _fit.AddLine(beauty, terms, colour, _residual, factors);
    }

    /// <summary>Ends a line of which some pixel may be off.</summary>
    internal void EndLine(bool anyOff)
    {
        _pixels += _off.Length;
        if (anyOff)
        {
            _offPixels -= TensorPrimitives.Sum<int>(_off);
            Array.Clear(_off);
        }
    }

    /// <summary>
    /// Residual of a line, 0 where it is no number; adds |beauty| and |residual| to the sums, notes the greatest |residual| and says
    /// whether any pixel is off; <see cref="EndLine"/> follows after the last colour. All in one go over the line.
    /// Benchmark: bench/run pixels.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    internal bool Subtract<TLines>(TLines lines, int x, int y)
        where TLines : IRebuildLines, allows ref struct
    {
        int width = _residual.Length,
            count = lines.Count,
            i = 0;
        Vector256<float> largest = Vector256<float>.Zero,
            light = Vector256<float>.Zero,
            residuals = Vector256<float>.Zero;
        Vector256<int> exponent = Vector256.Create(0x7f800000);
        Vector256<float> off = Vector256<float>.Zero,
            share = Vector256.Create(OffShareOfValue),
            floor = Vector256.Create(OffShareOfValue * OffFloor);
        ref float r = ref MemoryMarshal.GetArrayDataReference(_residual);
        for (; i <= width - Vector256<float>.Count; i += Vector256<float>.Count)
        {
            Vector256<float> value = lines.Eight(0, i);
            Vector256<float> residual = value;
            for (int t = 1; t < count; t++)
            {
                residual -= lines.Eight(t, i);
            }

            residual = Vector256.AndNot(residual, Vector256.Equals(residual.AsInt32() & exponent, exponent).AsSingle());
            value = Vector256.AndNot(value, Vector256.Equals(value.AsInt32() & exponent, exponent).AsSingle());
            residual.StoreUnsafe(ref r, (nuint)i);
            Vector256<float> size = Vector256.Abs(residual);
            largest = Vector256.Max(largest, size);
            off |= Vector256.GreaterThan(size, Vector256.Max(value * share, floor));
            residuals += size;
            light += Vector256.Abs(value);
        }

        bool isOff = off.ExtractMostSignificantBits() != 0;
        float most = 0;
        for (int k = 0; k < Vector256<float>.Count; k++)
        {
            most = MathF.Max(most, largest[k]);
        }

        _residualSum += Vector256.Sum(residuals);
        _beautySum += Vector256.Sum(light);
        for (; i < width; i++)
        {
            float beauty = lines.One(0, i),
                residual = beauty;
            for (int t = 1; t < count; t++)
            {
                residual -= lines.One(t, i);
            }

            _residual[i] = residual = float.IsFinite(residual) ? residual : 0;
            most = MathF.Max(most, MathF.Abs(residual));
            isOff |= MathF.Abs(residual) > OffShareOfValue * MathF.Max(beauty, OffFloor);
            _residualSum += MathF.Abs(residual);
            _beautySum += float.IsFinite(beauty) ? MathF.Abs(beauty) : 0;
        }

        if (most > _max)
        {
            (_max, _worst) = (most, (x + TensorPrimitives.IndexOfMaxMagnitude<float>(_residual), y));
        }

        return isOff;
    }

    /// <summary>Notes which pixels are off, as −1.</summary>
    private void NoteOff(float[] beauty)
    {
        Vector256<float> share = Vector256.Create(OffShareOfValue),
            floor = Vector256.Create(OffShareOfValue * OffFloor);
        int i = 0;
        for (; i <= _residual.Length - Vector256<float>.Count; i += Vector256<float>.Count)
        {
            Vector256<float> size = Vector256.Abs(Vector256.Create(_residual, i)),
                value = Vector256.Create(beauty, i);
            Vector256<int> isOff = Vector256.GreaterThan(size, Vector256.Max(value * share, floor)).AsInt32();
            (Vector256.Create(_off, i) | isOff).CopyTo(_off, i);
        }

        for (; i < _residual.Length; i++)
        {
            _off[i] |= MathF.Abs(_residual[i]) > OffShareOfValue * MathF.Max(beauty[i], OffFloor) ? -1 : 0;
        }
    }

    private bool IsBlack => _beautySum == 0 && _residualSum > 0;

    /// <summary>What the fit says of each term.</summary>
    internal FittedTerm[] Fitted() => _fit.Terms();

    /// <summary>The result.</summary>
    public RebuildFacts Finish() =>
        new()
        {
            MeanResidual =
                _beautySum > 0 ? Math.Min(1, _residualSum / _beautySum)
                : _residualSum > 0 ? 1
                : 0,
            OffShare = _pixels > 0 ? (double)_offPixels / _pixels : 0,
            MaxResidual = _max,
            Cause = _offPixels > 0 || IsBlack ? _fit.Finish(IsBlack) : null,
            Worst = _worst is { } worst ? [worst.X, worst.Y] : null,
            Terms =
            [
                .. _recipe.Terms.Select(
                    (term, t) => new RebuildTermFacts(term.Name, _pixels > 0 ? _termSum[t] / (3 * _pixels) : 0, _fit.Likeness(t))
                ),
            ],
        };
}

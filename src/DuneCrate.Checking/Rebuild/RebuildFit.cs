using System.Numerics.Tensors;

namespace DuneCrate.Checking.Rebuild;

/// <summary>
/// Finds the cause of a residual: the beauty is fitted by all terms (least squares, normal equations summed line by line), by one term at
/// a time, and by a curve over the sum. Lines that sum are not needed: there the equations hold with every gain at 1. Not shared between
/// threads.
/// </summary>
internal sealed class RebuildFit
{
    /// <summary>Share of the residual that one term must explain to be blamed …</summary>
    private const double Explained = 0.9;

    /// <summary>… beside a black term, which explains itself.</summary>
    private const double ExplainedBesideBlack = 0.98;

    /// <summary>Share of the residual that a curve must explain.</summary>
    private const double ExplainedByCurve = 0.97;

    /// <summary>Share of the residual that must go when two products change factors.</summary>
    private const double ExplainedBySwap = 0.98;

    /// <summary>Share of the residual's energy that must be light too much in the beauty for a pass to be missing.</summary>
    private const double Positive = 0.95;

    /// <summary>Gains this near to 0 and to a half are those of light that is counted twice.</summary>
    private const double NearDouble = 0.03;

    /// <summary>Pivots below this share of the greatest are terms that others make up.</summary>
    private const double Singular = 1e-5;

    private const int BinsPerOctave = 8,
        LeastOctave = -12,
        Octaves = 20,
        MantissaBits = 20,
        ExponentBias = 127,
        Stride = 7,
        AllOf = 96,
        Thinning = 8;

    private readonly RebuildRecipe _recipe;
    private readonly double[,] _products;
    private readonly double[] _withResidual;
    private readonly double[][] _bins = [.. Enumerable.Range(0, BinsPerOctave * Octaves + 1).Select(_ => new double[6])];
    private readonly bool _isThinned;
    private readonly (int First, int Second)[] _pairs;
    private readonly double[] _swapped;
    private float[] _difference = [],
        _other = [];
    private long _lines;
    private double _residual,
        _positive,
        _sampled;

    /// <summary>A fit of the terms of a recipe.</summary>
    /// <param name="recipe">What sums to what.</param>
    /// <param name="isThinned">
    /// Whether of many lines that are off an eighth is enough, each for eight; the colours take turns. A check does with that.
    /// </param>
    public RebuildFit(RebuildRecipe recipe, bool isThinned = false)
    {
        (_recipe, _isThinned) = (recipe, isThinned);
        (_products, _withResidual) = (new double[recipe.Terms.Length, recipe.Terms.Length], new double[recipe.Terms.Length]);
        int[] products = [.. Enumerable.Range(0, recipe.Terms.Length).Where(t => recipe.Terms[t].Factors.Length == 2)];
        _pairs = [.. products.SelectMany((t, i) => products.Skip(i + 1).Select(u => (t, u)))];
        _swapped = new double[_pairs.Length];
    }

    /// <summary>Takes a line of one colour.</summary>
    /// <param name="whole">The beauty.</param>
    /// <param name="terms">By term: its lines by colour.</param>
    /// <param name="colour">The colour.</param>
    /// <param name="residual">Beauty − sum, 0 where it is no number.</param>
    /// <param name="factors">By term: the lines of its factors, by factor and colour; null when swaps are not looked for.</param>
    public void AddLine(float[] whole, float[][][] terms, int colour, float[] residual, float[][][][]? factors = null)
    {
        int weight = _isThinned && ++_lines > AllOf ? Thinning : 1;
        if (weight > 1 && _lines % Thinning > 0)
        {
            return;
        }

        // A line with samples that are no numbers would spoil all sums.
        if (!float.IsFinite(TensorPrimitives.Sum<float>(whole)) || terms.Any(t => !float.IsFinite(TensorPrimitives.Sum<float>(t[colour]))))
        {
            return;
        }

        for (int t = 0; t < terms.Length; t++)
        {
            _withResidual[t] += weight * TensorPrimitives.Dot<float>(residual, terms[t][colour]);
            for (int u = 0; u <= t; u++)
            {
                double product = weight * TensorPrimitives.Dot<float>(terms[t][colour], terms[u][colour]);
                _products[t, u] += product;
                _products[u, t] = _products[t, u];
            }
        }

        _residual += weight * TensorPrimitives.SumOfSquares<float>(residual);
        AddSamples(whole, residual);
        if (factors is not null && _pairs.Length > 0)
        {
            AddSwaps(factors, colour, residual, weight);
        }
    }

    /// <summary>
    /// What is left of the residual when two products a·b and c·d have each other's factors: the sum loses (a − c)·(b − d).
    /// </summary>
    private void AddSwaps(float[][][][] factors, int colour, float[] residual, int weight)
    {
        if (_difference.Length != residual.Length)
        {
            (_difference, _other) = (new float[residual.Length], new float[residual.Length]);
        }

        for (int i = 0; i < _pairs.Length; i++)
        {
            float[][][] first = factors[_pairs[i].First],
                second = factors[_pairs[i].Second];
            TensorPrimitives.Subtract(first[0][colour], second[0][colour], _difference);
            TensorPrimitives.Subtract(first[1][colour], second[1][colour], _other);
            TensorPrimitives.MultiplyAdd<float>(_difference, _other, residual, _difference);
            _swapped[i] += weight * TensorPrimitives.SumOfSquares<float>(_difference);
        }
    }

    /// <summary>Some of a line's samples, for what needs no more: signs of the residual, and the curve of the beauty over the
    /// sum.</summary>
    private void AddSamples(ReadOnlySpan<float> whole, ReadOnlySpan<float> residual)
    {
        double sampled = 0,
            positive = 0;
        for (int i = 0; i < residual.Length; i += Stride)
        {
            double r = residual[i],
                b = whole[i],
                sum = b - r,
                square = r * r;
            sampled += square;
            positive += r > 0 ? square : 0;
            double[] bin = _bins[BinOf((float)sum)];
            bin[0]++;
            bin[1] += sum;
            bin[2] += b;
            bin[3] += sum * sum;
            bin[4] += sum * b;
            bin[5] += b * b;
        }

        (_sampled, _positive) = (_sampled + sampled, _positive + positive);
    }

    /// <summary>The bin of a sum: exponent and first bits of the mantissa, so that each octave has bins of equal width.</summary>
    private static int BinOf(float sum) =>
        sum > 0
            ? Math.Clamp(
                (BitConverter.SingleToInt32Bits(sum) >> MantissaBits) - ((LeastOctave + ExponentBias) * BinsPerOctave) + 1,
                1,
                BinsPerOctave * Octaves
            )
            : 0;

    /// <summary>The cause; null when no line was off.</summary>
    /// <param name="isBeautyBlack">Whether the beauty has no light at all.</param>
    public RebuildCause? Finish(bool isBeautyBlack)
    {
        if (isBeautyBlack)
        {
            return new RebuildCause(RebuildCauseKind.BeautyBlack, null, null, 1);
        }

        if (_residual <= 0)
        {
            return null;
        }

        int[] lit = [.. Enumerable.Range(0, _recipe.Terms.Length).Where(t => _products[t, t] > 0)],
            black = [.. Enumerable.Range(0, _recipe.Terms.Length).Where(t => _products[t, t] <= 0)];
        (int term, double gain, double explains) = One(lit);
        double positive = _sampled > 0 ? _positive / _sampled : 0,
            curve = Curve();
        (double[] gains, double all, _) = All(lit);
        if (Swap() is { } swap && swap.Explains > explains)
        {
            return swap;
        }

        return explains >= (black.Length > 0 ? ExplainedBesideBlack : Explained) ? Blame(term, gain, explains)
            : black.Length == 1 && positive >= Positive
                ? new RebuildCause(RebuildCauseKind.MissingTerm, _recipe.Terms[black[0]].Name, null, Round(positive))
            : curve >= ExplainedByCurve && curve > all ? new RebuildCause(RebuildCauseKind.ViewTransform, null, null, Round(curve))
            : all >= Explained ? BlameMost(lit, gains)
            : positive >= Positive ? new RebuildCause(RebuildCauseKind.MissingPass, null, null, Round(positive))
            : new RebuildCause(RebuildCauseKind.Unknown, null, null, Round(Math.Max(all, curve)));
    }

    /// <summary>The two products that sum once they have each other's factors, or null.</summary>
    private RebuildCause? Swap()
    {
        if (_pairs.Length == 0 || _difference.Length == 0 || _swapped.Min() is var least && 1 - least / _residual < ExplainedBySwap)
        {
            return null;
        }

        (int first, int second) = _pairs[Array.IndexOf(_swapped, least)];
        string names = $"{_recipe.Terms[first].Name}{RebuildCause.Between}{_recipe.Terms[second].Name}";
        return new RebuildCause(RebuildCauseKind.SwappedTerms, names, null, Round(1 - least / _residual));
    }

    /// <summary>Cosine between residual and a term, −1 to 1; 0 where one of them is black.</summary>
    public double Likeness(int term) =>
        _products[term, term] > 0 && _residual > 0 ? _withResidual[term] / Math.Sqrt(_products[term, term] * _residual) : 0;

    /// <summary>What the fit says of each term; black terms keep a gain of 1.</summary>
    public FittedTerm[] Terms()
    {
        int[] lit = [.. Enumerable.Range(0, _recipe.Terms.Length).Where(t => _products[t, t] > 0)];
        (double[] gains, _, bool[] isMadeUp) = All(lit);
        return
        [
            .. _recipe.Terms.Select(
                (term, t) =>
                    Array.IndexOf(lit, t) is >= 0 and int k
                        ? new FittedTerm(term.Name, Round(gains[k]), LeftOut(t), isMadeUp[k])
                        : new FittedTerm(term.Name, 1, 1, false)
            ),
        ];
    }

    /// <summary>|r + t| over |r|: what leaving a term out does to the residual r.</summary>
    private double LeftOut(int t)
    {
        double without = _residual + 2 * _withResidual[t] + _products[t, t];
        return _residual > 0 ? Math.Sqrt(Math.Max(0, without) / _residual) : double.PositiveInfinity;
    }

    private RebuildCause Blame(int term, double gain, double explains) =>
        new(
            Math.Abs(gain) < NearDouble || Math.Abs(gain - 0.5) < NearDouble ? RebuildCauseKind.DoubledTerm : RebuildCauseKind.ScaledTerm,
            _recipe.Terms[term].Name,
            Round(gain),
            Round(explains)
        );

    /// <summary>Of several terms with other gains, the one that makes most of the residual, and what it alone removes of it.</summary>
    private RebuildCause BlameMost(int[] lit, double[] gains)
    {
        double Removed(int k)
        {
            double change = gains[k] - 1;
            return (2 * change * _withResidual[lit[k]] - change * change * _products[lit[k], lit[k]]) / _residual;
        }

        int most = Enumerable.Range(0, lit.Length).MaxBy(Removed);
        return Blame(lit[most], gains[most], Math.Clamp(Removed(most), 0, 1));
    }

    /// <summary>The term that explains most of the residual by itself: least squares of the residual on it alone.</summary>
    private (int Term, double Gain, double Explains) One(int[] lit)
    {
        (int, double, double) best = (-1, 1, 0);
        foreach (int t in lit)
        {
            double dot = _withResidual[t],
                explains = dot * dot / _products[t, t] / _residual;
            if (explains > best.Item3)
            {
                best = (t, 1 + dot / _products[t, t], explains);
            }
        }

        return best;
    }

    /// <summary>
    /// All gains at once, by Cholesky's decomposition of the normal equations of the residual; a term that others make up keeps its gain.
    /// </summary>
    private (double[] Gains, double Explains, bool[] IsMadeUp) All(int[] lit)
    {
        int n = lit.Length;
        double[,] root = new double[n, n];
        double[] wanted = [.. lit.Select(t => _withResidual[t])],
            half = new double[n],
            change = new double[n];
        bool[] isOut = new bool[n];
        for (int i = 0; i < n; i++)
        {
            for (int j = 0; j <= i; j++)
            {
                double rest = _products[lit[i], lit[j]];
                for (int k = 0; k < j; k++)
                {
                    rest -= root[i, k] * root[j, k];
                }

                if (i == j)
                {
                    isOut[i] = rest <= Singular * _products[lit[i], lit[i]];
                    root[i, i] = isOut[i] ? 1 : Math.Sqrt(rest);
                }
                else
                {
                    root[i, j] = isOut[j] ? 0 : rest / root[j, j];
                }
            }

            if (isOut[i])
            {
                for (int j = 0; j < i; j++)
                {
                    root[i, j] = 0;
                }
            }
        }

        for (int i = 0; i < n; i++)
        {
            half[i] = isOut[i] ? 0 : (wanted[i] - Enumerable.Range(0, i).Sum(k => root[i, k] * half[k])) / root[i, i];
        }

        for (int i = n - 1; i >= 0; i--)
        {
            change[i] = isOut[i] ? 0 : (half[i] - Enumerable.Range(i + 1, n - i - 1).Sum(k => root[k, i] * change[k])) / root[i, i];
        }

        double explains = _residual > 0 ? Enumerable.Range(0, n).Sum(k => change[k] * wanted[k]) / _residual : 0;
        return ([.. change.Select(c => 1 + c)], Math.Clamp(explains, 0, 1), isOut);
    }

    /// <summary>Share of the residual that goes when the beauty is a curve over the sum: a straight piece in each of its bins.</summary>
    private double Curve()
    {
        double left = 0;
        foreach (double[] bin in _bins.Where(b => b[0] > 0))
        {
            double n = bin[0],
                ss = bin[3] - bin[1] * bin[1] / n,
                sb = bin[4] - bin[1] * bin[2] / n,
                bb = bin[5] - bin[2] * bin[2] / n;
            left += Math.Max(0, ss > 0 ? bb - sb * sb / ss : bb);
        }

        return _sampled > 0 ? Math.Clamp(1 - left / _sampled, 0, 1) : 0;
    }

    private static double Round(double value) => Math.Round(value, 4);
}

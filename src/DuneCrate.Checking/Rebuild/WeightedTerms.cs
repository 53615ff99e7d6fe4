using System.Collections.Immutable;
using System.Numerics.Tensors;

namespace DuneCrate.Checking.Rebuild;

/// <summary>Lines of terms, each multiplied by a weight; those of weight 1 stay where they are. One thread at a time.</summary>
/// <param name="weights">By term; empty for 1.</param>
/// <param name="width">Pixels of a line.</param>
internal sealed class WeightedTerms(ImmutableArray<double> weights, int width)
{
    private readonly float[][][] _own =
    [
        .. weights.Select(w => w == 1 ? Array.Empty<float[]>() : [new float[width], new float[width], new float[width]]),
    ];

    /// <summary>The lines, by term and colour; they hold until the next call.</summary>
    public float[][][] Of(float[][][] terms)
    {
        if (weights.IsEmpty || weights.All(w => w == 1))
        {
            return terms;
        }

        float[][][] all = new float[terms.Length][][];
        for (int t = 0; t < terms.Length; t++)
        {
            bool isOwn = t < _own.Length && _own[t].Length > 0;
            all[t] = isOwn ? _own[t] : terms[t];
            for (int c = 0; isOwn && c < 3; c++)
            {
                if (weights[t] == 0)
                {
                    Array.Clear(_own[t][c]);
                }
                else
                {
                    TensorPrimitives.Multiply(terms[t][c], (float)weights[t], _own[t][c]);
                }
            }
        }

        return all;
    }
}

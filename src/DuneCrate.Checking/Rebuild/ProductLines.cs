using System.Numerics.Tensors;

namespace DuneCrate.Checking.Rebuild;

/// <summary>Lines of the terms of a sum: those of single passes as they are, those of products multiplied. One thread at a time.</summary>
internal sealed class ProductLines
{
    /// <summary>Lines for terms of so many factors.</summary>
    /// <param name="factors">By term: how many factors it has.</param>
    /// <param name="width">Pixels of a line.</param>
    public ProductLines(IEnumerable<int> factors, int width)
    {
        Factors = [.. factors.Select(n => Enumerable.Range(0, n).Select(_ => new float[3][]).ToArray())];
        Terms = [.. Factors.Select(f => f.Length == 1 ? f[0] : [new float[width], new float[width], new float[width]])];
        HasProducts = Factors.Any(f => f.Length > 1);
    }

    /// <summary>By term, factor and colour: the lines that are multiplied. Whoever reads a line puts it here.</summary>
    public float[][][][] Factors { get; }

    /// <summary>By term and colour.</summary>
    public float[][][] Terms { get; }

    /// <summary>Whether any term is a product.</summary>
    public bool HasProducts { get; }

    /// <summary>Multiplies what <see cref="Factors"/> holds into <see cref="Terms"/>.</summary>
    public void Multiply()
    {
        for (int t = 0; t < Factors.Length; t++)
        {
            for (int colour = 0; Factors[t].Length > 1 && colour < 3; colour++)
            {
                TensorPrimitives.Multiply(Factors[t][0][colour], Factors[t][1][colour], Terms[t][colour]);
                for (int f = 2; f < Factors[t].Length; f++)
                {
                    TensorPrimitives.Multiply(Terms[t][colour], Factors[t][f][colour], Terms[t][colour]);
                }
            }
        }
    }
}

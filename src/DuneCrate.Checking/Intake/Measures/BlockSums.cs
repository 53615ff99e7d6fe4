using System.Runtime.Intrinsics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// Means over 32 × 18 blocks of a picture, row by row from the top; pictures smaller than that leave blocks without pixels, whose mean is
/// 0.
/// </summary>
internal sealed class BlockSums(int width, int height)
{
    /// <summary>Blocks across.</summary>
    public const int Across = 32;

    /// <summary>Blocks down.</summary>
    public const int Down = 18;

    private readonly double[] _sums = new double[Across * Down];
    private readonly long[] _counts = new long[Across * Down];

    /// <summary>First pixel of a column of blocks.</summary>
    public int FirstX(int column) => (int)((long)column * width / Across);

    /// <summary>The row of blocks of a line, from 0.</summary>
    public int RowOf(int line) => (int)((long)line * Down / height);

    /// <summary>Adds a line's values; those that are no numbers make their stretch count as 0.</summary>
    public void Add(ReadOnlySpan<float> values, int line)
    {
        int row = RowOf(line) * Across;
        for (int column = 0; column < Across; column++)
        {
            ReadOnlySpan<float> part = values[FirstX(column)..FirstX(column + 1)];
            float sum = Sum(part);
            _sums[row + column] += float.IsFinite(sum) ? sum : 0;
            _counts[row + column] += part.Length;
        }
    }

    /// <summary>The sum, in one order whatever vectors the processor has: files are read on many machines.</summary>
    private static float Sum(ReadOnlySpan<float> values)
    {
        Vector256<float> sums = Vector256<float>.Zero;
        int i = 0;
        for (; i <= values.Length - Vector256<float>.Count; i += Vector256<float>.Count)
        {
            sums += Vector256.Create(values[i..]);
        }

        float sum = Vector256.Sum(sums);
        for (; i < values.Length; i++)
        {
            sum += values[i];
        }

        return sum;
    }

    /// <summary>The mean of a block.</summary>
    public double Mean(int block) => _counts[block] > 0 ? _sums[block] / _counts[block] : 0;
}

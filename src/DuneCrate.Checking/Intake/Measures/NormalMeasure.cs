using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>Lengths of normals where a surface is, and where that is.</summary>
internal sealed class NormalMeasure(int[] axes, int width, int height) : PassMeasure
{
    private const float Tolerance = 0.02f,
        CoveredFrom = 0.5f;

    private readonly BlockSums _blocks = new(width, height);
    private readonly float[] _covered = new float[width];
    private long _count,
        _off;
    private double _lengths;
    private int[]? _at;

    public override IEnumerable<int> Needs => axes;

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public override void AddLine(ScanLine line)
    {
        (float[] nx, float[] ny, float[] nz) = (line[axes[0]], line[axes[1]], line[axes[2]]);
        Vector256<float> sum = Vector256<float>.Zero;
        int x = 0;
        for (; x <= nx.Length - Vector256<float>.Count; x += Vector256<float>.Count)
        {
            Vector256<float> a = Vector256.Create(nx.AsSpan(x)),
                b = Vector256.Create(ny.AsSpan(x)),
                c = Vector256.Create(nz.AsSpan(x));
            Vector256<float> square = a * a + b * b + c * c;
            Vector256<float> isCovered = Vector256.GreaterThanOrEqual(square, Vector256.Create(CoveredFrom * CoveredFrom));
            (isCovered & Vector256<float>.One).CopyTo(_covered, x);
            Vector256<float> length = Vector256.Sqrt(square);
            sum += length & isCovered;
            _count += System.Numerics.BitOperations.PopCount(isCovered.ExtractMostSignificantBits());
            uint off = (
                Vector256.GreaterThan(Vector256.Abs(length - Vector256<float>.One), Vector256.Create(Tolerance)) & isCovered
            ).ExtractMostSignificantBits();
            if (off != 0)
            {
                _off += System.Numerics.BitOperations.PopCount(off);
                _at ??= [line.Window.MinX + x + System.Numerics.BitOperations.TrailingZeroCount(off), line.Y];
            }
        }

        _lengths += Vector256.Sum(sum);
        for (; x < nx.Length; x++)
        {
            float length = MathF.Sqrt(nx[x] * nx[x] + ny[x] * ny[x] + nz[x] * nz[x]);
            bool isCovered = length >= CoveredFrom;
            _covered[x] = isCovered ? 1 : 0;
            (_count, _lengths) = isCovered ? (_count + 1, _lengths + length) : (_count, _lengths);
            if (isCovered && MathF.Abs(length - 1) > Tolerance)
            {
                _off++;
                _at ??= [line.Window.MinX + x, line.Y];
            }
        }

        _blocks.Add(_covered, line.Row);
    }

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics) =>
        facts with
        {
            Normal = new NormalFacts(_count, _off, _count > 0 ? _lengths / _count : 0, _at),
            Coverage = CoverageMeasure.Signature(_blocks),
        };
}

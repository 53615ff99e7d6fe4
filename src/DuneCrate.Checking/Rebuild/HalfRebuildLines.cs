using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using DuneCrate.Exr;

namespace DuneCrate.Checking.Rebuild;

/// <summary>Lines of halves as they are stored, which are floats only in registers.</summary>
internal readonly ref struct HalfRebuildLines : IRebuildLines
{
    private readonly ReadOnlySpan<ushort> _halves;
    private readonly ReadOnlySpan<int> _starts;

    /// <summary>Lines that lie somewhere in what is stored.</summary>
    /// <param name="halves">All that is stored.</param>
    /// <param name="starts">Where the lines begin, the beauty's first.</param>
    /// <param name="width">Samples of a line.</param>
    public HalfRebuildLines(ReadOnlySpan<ushort> halves, ReadOnlySpan<int> starts, int width)
    {
        foreach (int start in starts)
        {
            _ = halves.Slice(start, width);
        }

        _halves = halves;
        _starts = starts;
    }

    public int Count => _starts.Length;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Vector256<float> Eight(int line, int at) =>
        HalfLine.Eight(Vector128.LoadUnsafe(ref MemoryMarshal.GetReference(_halves), (nuint)(_starts[line] + at)));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float One(int line, int at) => HalfLine.One(_halves[_starts[line] + at]);
}

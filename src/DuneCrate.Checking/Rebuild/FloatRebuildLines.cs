using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace DuneCrate.Checking.Rebuild;

/// <summary>Lines of floats.</summary>
/// <param name="Beauty">The beauty.</param>
/// <param name="Terms">By term and colour.</param>
/// <param name="Colour">The colour.</param>
internal readonly record struct FloatRebuildLines(float[] Beauty, float[][][] Terms, int Colour) : IRebuildLines
{
    public int Count => Terms.Length + 1;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Vector256<float> Eight(int line, int at) =>
        Vector256.LoadUnsafe(ref MemoryMarshal.GetArrayDataReference(line == 0 ? Beauty : Terms[line - 1][Colour]), (nuint)at);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float One(int line, int at) => line == 0 ? Beauty[at] : Terms[line - 1][Colour][at];
}

using System.Runtime.Intrinsics;

namespace DuneCrate.Checking.Rebuild;

/// <summary>The beauty (number 0) and the terms (from 1) of one line and colour, as vectors of floats.</summary>
internal interface IRebuildLines
{
    /// <summary>How many there are, with the beauty.</summary>
    int Count { get; }

    /// <summary>Eight samples from one on.</summary>
    Vector256<float> Eight(int line, int at);

    /// <summary>One sample.</summary>
    float One(int line, int at);
}

using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Estimates;

/// <summary>What one planned output will come to.</summary>
/// <param name="Output">The output.</param>
/// <param name="Files">Files.</param>
/// <param name="BytesPerFrame">Bytes of one file.</param>
/// <param name="IsMeasured">Whether a test frame says so, rather than the table.</param>
public sealed record OutputEstimate(PlannedOutput Output, long Files, double BytesPerFrame, bool IsMeasured)
{
    /// <summary>Bytes of all its files.</summary>
    public double Bytes => Files * BytesPerFrame;
}

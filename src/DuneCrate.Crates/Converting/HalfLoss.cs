using System.Numerics.Tensors;

namespace DuneCrate.Crates.Converting;

/// <summary>How far halves are from the floats that they were made of. Source: IEEE 754, rounding to the nearest, ties to even.</summary>
/// <param name="Absolute">Largest distance.</param>
/// <param name="Relative">Largest distance as a share of the float, of floats from 2^-14 on, the least normal half.</param>
public readonly record struct HalfLoss(double Absolute, double Relative)
{
    /// <summary>Largest number that half holds.</summary>
    public const double Most = 65504;

    private const float LeastNormal = 1f / 16384;

    /// <summary>The larger of both.</summary>
    public HalfLoss With(HalfLoss other) => new(Math.Max(Absolute, other.Absolute), Math.Max(Relative, other.Relative));

    /// <summary>The loss of a line.</summary>
    /// <param name="floats">As they were.</param>
    /// <param name="halves">What they became.</param>
    internal static HalfLoss Of(ReadOnlySpan<float> floats, ReadOnlySpan<Half> halves)
    {
        double absolute = 0,
            relative = 0;
        Span<float> back = stackalloc float[256];
        for (int at = 0; at < floats.Length; at += back.Length)
        {
            ReadOnlySpan<float> some = floats.Slice(at, Math.Min(back.Length, floats.Length - at));
            Span<float> off = back[..some.Length];
            TensorPrimitives.ConvertToSingle(halves.Slice(at, some.Length), off);
            TensorPrimitives.Subtract(off, some, off);
            if (TensorPrimitives.MaxMagnitude(off) == 0)
            {
                continue;
            }

            for (int i = 0; i < off.Length; i++)
            {
                float distance = Math.Abs(off[i]),
                    size = Math.Abs(some[i]);
                if (float.IsFinite(distance))
                {
                    absolute = Math.Max(absolute, distance);
                    relative = size >= LeastNormal ? Math.Max(relative, distance / size) : relative;
                }
            }
        }

        return new HalfLoss(absolute, relative);
    }
}

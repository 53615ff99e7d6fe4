namespace DuneCrate.Imaging.Colour;

/// <summary>
/// A 3 × 3 matrix over scene-linear colours, row by row. From one set of primaries to another: through CIE XYZ, with the white taken
/// along by the Bradford transform. Sources: SMPTE RP 177 (RGB to XYZ from chromaticities), ICC.1:2022 annex E (Bradford).
/// </summary>
public readonly record struct ColourMatrix(
    double M00,
    double M01,
    double M02,
    double M10,
    double M11,
    double M12,
    double M20,
    double M21,
    double M22
)
{
    /// <summary>Changes nothing.</summary>
    public static readonly ColourMatrix Identity = new(1, 0, 0, 0, 1, 0, 0, 0, 1);

    private static readonly ColourMatrix Bradford = new(0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296);

    /// <summary>From one space's red, green and blue to another's.</summary>
    public static ColourMatrix Between(Primaries from, Primaries to)
    {
        if (from == to || from.IsNear(to.Chromaticities))
        {
            return Identity;
        }

        (double X, double Y, double Z) a = White(from),
            b = White(to);
        (double X, double Y, double Z) coneA = Bradford.Times(a.X, a.Y, a.Z),
            coneB = Bradford.Times(b.X, b.Y, b.Z);
        ColourMatrix scale = new(coneB.X / coneA.X, 0, 0, 0, coneB.Y / coneA.Y, 0, 0, 0, coneB.Z / coneA.Z);
        return ToXyz(to).Inverse() * (Bradford.Inverse() * (scale * (Bradford * ToXyz(from))));
    }

    /// <summary>From red, green and blue to CIE XYZ; the middle row weighs luminance.</summary>
    public static ColourMatrix ToXyz(Primaries primaries)
    {
        var c = primaries.Chromaticities;
        (double X, double Y, double Z) Of(int i) => (c[i] / (double)c[i + 1], 1, (1 - (double)c[i] - c[i + 1]) / c[i + 1]);
        (double X, double Y, double Z) r = Of(0),
            g = Of(2),
            b = Of(4),
            white = White(primaries);
        var columns = new ColourMatrix(r.X, g.X, b.X, r.Y, g.Y, b.Y, r.Z, g.Z, b.Z);
        (double sr, double sg, double sb) = columns.Inverse().Times(white.X, white.Y, white.Z);
        return columns * new ColourMatrix(sr, 0, 0, 0, sg, 0, 0, 0, sb);
    }

    /// <summary>The matrix times a column.</summary>
    public (double X, double Y, double Z) Times(double x, double y, double z) =>
        (M00 * x + M01 * y + M02 * z, M10 * x + M11 * y + M12 * z, M20 * x + M21 * y + M22 * z);

    /// <summary>Two matrices, the right one applied first.</summary>
    public static ColourMatrix operator *(ColourMatrix a, ColourMatrix b)
    {
        (double x0, double x1, double x2) = a.Times(b.M00, b.M10, b.M20);
        (double y0, double y1, double y2) = a.Times(b.M01, b.M11, b.M21);
        (double z0, double z1, double z2) = a.Times(b.M02, b.M12, b.M22);
        return new(x0, y0, z0, x1, y1, z1, x2, y2, z2);
    }

    /// <summary>The matrix that takes it back; of one that cannot be taken back the identity.</summary>
    public ColourMatrix Inverse()
    {
        double a = M11 * M22 - M12 * M21,
            b = M12 * M20 - M10 * M22,
            c = M10 * M21 - M11 * M20,
            d = 1 / (M00 * a + M01 * b + M02 * c);
        return double.IsFinite(d)
            ? new(
                a * d,
                (M02 * M21 - M01 * M22) * d,
                (M01 * M12 - M02 * M11) * d,
                b * d,
                (M00 * M22 - M02 * M20) * d,
                (M02 * M10 - M00 * M12) * d,
                c * d,
                (M01 * M20 - M00 * M21) * d,
                (M00 * M11 - M01 * M10) * d
            )
            : Identity;
    }

    private static (double X, double Y, double Z) White(Primaries of) =>
        (
            of.Chromaticities[6] / (double)of.Chromaticities[7],
            1,
            (1 - (double)of.Chromaticities[6] - of.Chromaticities[7]) / of.Chromaticities[7]
        );
}

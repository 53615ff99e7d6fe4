namespace DuneCrate.Imaging.Colour;

/// <summary>
/// CIE L*a*b* (D65) of sRGB colours and the CIEDE2000 difference between two of them. Sources: IEC 61966-2-1 (sRGB to XYZ), CIE 15
/// (XYZ to L*a*b*), CIE 142-2001 / ISO/CIE 11664-6 (difference), in the form of Sharma, Wu, Dalal, "The CIEDE2000 Color-Difference
/// Formula: Implementation Notes, Supplementary Test Data, and Mathematical Observations", 2005.
/// </summary>
public static class CieDe2000
{
    /// <summary>L*, a*, b* of an sRGB colour with components 0..255.</summary>
    public static (double L, double A, double B) Lab(byte red, byte green, byte blue)
    {
        double r = SrgbCurve.Decode(red / 255.0),
            g = SrgbCurve.Decode(green / 255.0),
            b = SrgbCurve.Decode(blue / 255.0);
        double x = F((0.4124 * r + 0.3576 * g + 0.1805 * b) / 0.9505),
            y = F(0.2126 * r + 0.7152 * g + 0.0722 * b),
            z = F((0.0193 * r + 0.1192 * g + 0.9505 * b) / 1.0890);
        return (116 * y - 16, 500 * (x - y), 200 * (y - z));
    }

    /// <summary>The difference; 1 is about what an eye just sees. All weights are 1.</summary>
    public static double Difference((double L, double A, double B) one, (double L, double A, double B) two)
    {
        double chroma1 = Math.Sqrt(one.A * one.A + one.B * one.B),
            chroma2 = Math.Sqrt(two.A * two.A + two.B * two.B);
        double mean7 = Math.Pow((chroma1 + chroma2) / 2, 7),
            g = 0.5 * (1 - Math.Sqrt(mean7 / (mean7 + Math.Pow(25, 7))));
        double a1 = (1 + g) * one.A,
            a2 = (1 + g) * two.A;
        double c1 = Math.Sqrt(a1 * a1 + one.B * one.B),
            c2 = Math.Sqrt(a2 * a2 + two.B * two.B);
        double h1 = Hue(a1, one.B),
            h2 = Hue(a2, two.B);
        double dL = two.L - one.L,
            dC = c2 - c1,
            turn = c1 * c2 == 0 ? 0 : h2 - h1;
        turn +=
            turn > 180 ? -360
            : turn < -180 ? 360
            : 0;
        double dH = 2 * Math.Sqrt(c1 * c2) * Sin(turn / 2);
        double meanL = (one.L + two.L) / 2,
            meanC = (c1 + c2) / 2;
        double meanH =
            c1 * c2 == 0 ? h1 + h2
            : Math.Abs(h1 - h2) <= 180 ? (h1 + h2) / 2
            : h1 + h2 < 360 ? (h1 + h2 + 360) / 2
            : (h1 + h2 - 360) / 2;
        double t = 1 - 0.17 * Cos(meanH - 30) + 0.24 * Cos(2 * meanH) + 0.32 * Cos(3 * meanH + 6) - 0.20 * Cos(4 * meanH - 63);
        double c7 = Math.Pow(meanC, 7),
            rotation = -Sin(60 * Math.Exp(-Math.Pow((meanH - 275) / 25, 2))) * 2 * Math.Sqrt(c7 / (c7 + Math.Pow(25, 7)));
        double l50 = (meanL - 50) * (meanL - 50);
        double l = dL / (1 + 0.015 * l50 / Math.Sqrt(20 + l50)),
            c = dC / (1 + 0.045 * meanC),
            h = dH / (1 + 0.015 * meanC * t);
        return Math.Sqrt(l * l + c * c + h * h + rotation * c * h);
    }

    private static double F(double t) => t > 216.0 / 24389 ? Math.Cbrt(t) : (24389.0 / 27 * t + 16) / 116;

    private static double Hue(double a, double b) => a == 0 && b == 0 ? 0 : (Math.Atan2(b, a) * 180 / Math.PI + 360) % 360;

    private static double Sin(double degrees) => Math.Sin(degrees * Math.PI / 180);

    private static double Cos(double degrees) => Math.Cos(degrees * Math.PI / 180);
}

using DuneCrate.Imaging.Colour;
using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Imaging.Tests.Pictures;

/// <summary>View transforms and primaries against what standards publish.</summary>
public class ViewTests
{
    /// <summary>Worked values of the curves.</summary>
    [Theory]
    [InlineData(PictureView.Srgb, 0.5, 0.735357)] // IEC 61966-2-1, 5.2: 1.055 · 0.5^(1/2.4) − 0.055.
    [InlineData(PictureView.Srgb, 0.0031308, 0.04045)] // Where its straight part ends.
    [InlineData(PictureView.Rec709, 0.018, 0.081)] // Rec. ITU-R BT.709-6, 1.2: where its straight part ends.
    [InlineData(PictureView.Rec709, 1, 1)]
    [InlineData(PictureView.Log, 1, 685.0 / 1023)] // Reference white.
    [InlineData(PictureView.Log, 0, 95.0 / 1023)] // Reference black.
    [InlineData(PictureView.Log, -2, 95.0 / 1023)]
    [InlineData(PictureView.Plain, 0.3, 0.3)]
    public void Curves_have_their_published_values(PictureView view, double linear, double shown) =>
        Assert.Equal(shown, ViewCurve.Apply(view, linear), 3);

    /// <summary>The table is the formula, also on both sides of every step.</summary>
    [Theory]
    [InlineData(PictureView.Srgb, 0, 1)]
    [InlineData(PictureView.Srgb, 1.5, 1)]
    [InlineData(PictureView.Srgb, -7.25, 2.2)]
    [InlineData(PictureView.Rec709, 0, 0.8)]
    [InlineData(PictureView.Log, 2, 1)]
    [InlineData(PictureView.Plain, 0, 1)]
    public void The_table_is_the_formula(PictureView view, double stops, double gamma)
    {
        CodeTable table = CodeTable.Of(view, stops, gamma);
        int Exact(float v) =>
            (int)
                Math.Round(
                    255 * Math.Pow(Math.Clamp(ViewCurve.Apply(view, v * Math.Pow(2, stops)), 0, 1), 1 / gamma),
                    MidpointRounding.AwayFromZero
                );
        var random = new Random(4);
        foreach (float value in Enumerable.Range(0, 20_000).Select(_ => (float)(Math.Pow(2, random.NextDouble() * 40 - 30))))
        {
            Assert.Equal(Exact(value), table[value]);
        }

        for (int code = Exact(0) + 1; code < 255; code++)
        {
            int bits = FirstOf(table, code);
            Assert.Equal(Exact(BitConverter.Int32BitsToSingle(bits)), table[BitConverter.Int32BitsToSingle(bits)]);
            Assert.Equal(Exact(BitConverter.Int32BitsToSingle(bits - 1)), table[BitConverter.Int32BitsToSingle(bits - 1)]);
        }

        foreach (float odd in (float[])[0, -0.5f, float.NaN, float.NegativeInfinity])
        {
            Assert.Equal(Exact(0), table[odd]);
        }

        Assert.Equal(view == PictureView.Log ? 255 : 255, table[float.PositiveInfinity]);
    }

    /// <summary>Published matrices between primaries.</summary>
    public static TheoryData<string, string, double[], double> Matrices =>
        new()
        {
            // Rec. ITU-R BT.2087-0, annex 1.
            { "rec709", "rec2020", [0.6274, 0.3293, 0.0433, 0.0691, 0.9195, 0.0114, 0.0164, 0.0880, 0.8956], 1e-4 },
            // Academy S-2014-004, AP1 to AP0.
            {
                "ap1",
                "ap0",
                [
                    0.6954522414,
                    0.1406786965,
                    0.1638690622,
                    0.0447945634,
                    0.8596711185,
                    0.0955343182,
                    -0.0055258826,
                    0.0040252103,
                    1.0015006723,
                ],
                2e-5
            },
            // Rec. 709 to ACEScg through Bradford: from memory.
            { "rec709", "ap1", [0.6131, 0.3395, 0.0474, 0.0702, 0.9164, 0.0134, 0.0206, 0.1096, 0.8698], 2e-4 },
        };

    [Theory]
    [MemberData(nameof(Matrices))]
    public void Matrices_between_primaries_are_the_published_ones(string from, string to, double[] published, double tolerance)
    {
        ColourMatrix m = ColourMatrix.Between(Find(from), Find(to));
        double[] ours = [m.M00, m.M01, m.M02, m.M10, m.M11, m.M12, m.M20, m.M21, m.M22];
        Assert.All(ours.Zip(published), p => Assert.InRange(p.First, p.Second - tolerance, p.Second + tolerance));
        ColourMatrix there = m * m.Inverse();
        Assert.InRange(there.M00 + there.M11 + there.M22, 3 - 1e-9, 3 + 1e-9);
    }

    /// <summary>Rec. ITU-R BT.709-6, 3.2, and BT.2020-2, table 4: the weights of luminance.</summary>
    [Theory]
    [InlineData("rec709", 0.2126, 0.7152, 0.0722)]
    [InlineData("rec2020", 0.2627, 0.6780, 0.0593)]
    public void Luminance_has_the_published_weights(string space, double red, double green, double blue)
    {
        ColourMatrix m = ColourMatrix.ToXyz(Find(space));
        Assert.Equal((red, green, blue), (Math.Round(m.M10, 4), Math.Round(m.M11, 4), Math.Round(m.M12, 4)));
    }

    [Theory]
    [InlineData("lin_rec709", "rec709")]
    [InlineData("ACEScg", "ap1")]
    [InlineData("ACES2065-1", "ap0")]
    [InlineData("scene-linear", null)]
    public void Names_of_spaces_mean_primaries(string name, string? key) => Assert.Equal(key, Primaries.OfSpace(name)?.Key);

    private static Primaries Find(string key) => Primaries.All.Single(p => p.Key == key);

    private static int FirstOf(CodeTable table, int code)
    {
        (int low, int high) = (0, 0x7F800000);
        while (high - low > 1)
        {
            int middle = low + (high - low) / 2;
            (low, high) = table[BitConverter.Int32BitsToSingle(middle)] >= code ? (low, middle) : (middle, high);
        }

        return high;
    }
}

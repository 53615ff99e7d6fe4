using System.Text.RegularExpressions;
using DuneCrate.Exr;
using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Imaging.Tests.Pictures;

/// <summary>How far two pictures are apart, held against idiff on files that oiiotool wrote.</summary>
public sealed class DifferenceTests : IDisposable
{
    private readonly TempFolder _folder = new();

    [Fact]
    public void Mean_and_maximum_are_those_of_idiff()
    {
        string a = Noise("a.exr", 3),
            b = Noise("b.exr", 4);
        (double mean, double max) = PassDifference.Size(Read(a), Read(b));
        string theirs = Tool.RunAny("idiff", "-fail", "0", "-a", a, b);
        double Number(string what) =>
            double.Parse(
                Regex.Match(theirs, what + @"\s*=\s*([0-9.e+-]+)").Groups[1].Value,
                System.Globalization.CultureInfo.InvariantCulture
            );
        Assert.Equal(Number("Mean error"), mean, 5);
        Assert.Equal(Number("Max error"), max, 4);
        Assert.Equal((0, 0), PassDifference.Size(Read(a), Read(a)));
    }

    [Fact]
    public void A_difference_with_its_sign_is_grey_where_both_are_equal()
    {
        PassPixels one = Of(0.25f, 0.5f, 0.75f, float.NaN),
            other = Of(0.25f, 0.25f, 1f, 0);
        float[] signed = PassDifference.Of(one, other, 2, isSigned: true).Channels[0].Plane;
        Assert.Equal([0.5f, 0.75f, 0.25f, float.NaN], signed);
        Assert.Equal([0, 0.5f, 0.5f, float.NaN], PassDifference.Of(one, other, 2).Channels[0].Plane);
        Assert.Equal(double.PositiveInfinity, PassDifference.Size(one, other).Max);
        Assert.Equal((0, 0), PassDifference.Size(one, one));
    }

    private static PassPixels Of(params float[] row) => new("y", null, new PixelBox(0, 0, row.Length - 1, 0), 1, [("Y", row)], null);

    private string Noise(string name, int seed)
    {
        string file = _folder[name];
        Tool.Oiio("--create", "64x48", "3", $"--noise:type=gaussian:mean=0.4:stddev=0.1:seed={seed}", "-d", "half", "-o", file);
        return file;
    }

    private static PassPixels Read(string file)
    {
        using PictureLines lines = PictureLines.Open(Disk.File(file), "exr", ["R", "G", "B"], ReadLimits.Default, null);
        return PassPixels.From(PicturePlanes.Read(lines, 1, isMean: true, lines.Window, default), "beauty", null, ["R", "G", "B"]);
    }

    public void Dispose() => _folder.Dispose();
}

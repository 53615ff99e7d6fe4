using System.Text.RegularExpressions;
using DuneCrate.Checking.Comparing;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Tests.Comparing;

/// <summary>Comparisons of files that oiiotool wrote, held against what idiff prints of them.</summary>
public sealed class ComparisonTests : IDisposable
{
    private readonly TempFolder _folder = new();

    [Fact]
    public void Numbers_are_those_of_idiff()
    {
        string a = Grey("a.exr", "0", "1", 1),
            b = _folder["b.exr"];
        Tool.Oiio(
            a,
            "--create",
            "64x48",
            "1",
            "--noise:type=gaussian:mean=0:stddev=0.02:seed=9",
            "--add",
            "--chnames",
            "Y",
            "-d",
            "float",
            "-o",
            b
        );
        ChannelDifference ours = Assert.Single(Compare(a, b, 0).Channels);
        string theirs = Tool.RunAny("idiff", "-fail", "0", "-a", a, b);
        double Number(string what) =>
            double.Parse(
                Regex.Match(theirs, what + @"\s*=\s*([0-9.e+-]+)").Groups[1].Value,
                System.Globalization.CultureInfo.InvariantCulture
            );
        Assert.Equal(Number("Mean error"), ours.Mean, 6);
        Assert.Equal(Number("RMS error"), ours.Rms, 6);
        Assert.Equal(-20 * Math.Log10(Number("RMS error")), ours.Psnr!.Value, 2); // idiff's peak is the brightest sample.
        Assert.Equal(Number("Max error"), ours.Max, 5);
        Match at = Regex.Match(theirs, @"@ \((\d+), (\d+)");
        Assert.Equal([int.Parse(at.Groups[1].Value), int.Parse(at.Groups[2].Value)], ours.Worst!);
        Assert.Equal(1, ours.Off, 2);
        // 31.7 % of a normal distribution lie beyond one deviation.
        Assert.InRange(Assert.Single(Compare(a, b, 0.02).Channels).Off, 0.25, 0.4);
        Assert.True(Compare(a, b, 1).Equal);
    }

    [Fact]
    public void A_file_equals_itself_however_it_is_packed_and_a_nan_a_nan()
    {
        string a = _folder["a.exr"],
            b = _folder["b.exr"];
        Tool.Oiio("--create", "16x8", "3", "--addc", "-1,0.3,0.2", "--powc", "0.5", "-d", "half", "--compression", "zip", "-o", a);
        Tool.Oiio(a, "--compression", "piz", "-o", b);
        FileDifference same = Compare(a, b, 0);
        Assert.True(same.Equal);
        Assert.All(same.Channels, c => Assert.Equal((0d, null, 0d, null), (c.Max, c.Psnr, c.Off, c.Worst)));
    }

    [Fact]
    public void A_nan_beside_a_number_is_off_and_told()
    {
        string a = _folder["a.exr"],
            b = Grey("b.exr", "0", "1", 4);
        Tool.Oiio("--create", "64x48", "1", "--addc", "-1", "--powc", "0.5", "--chnames", "Y", "-d", "float", "-o", a);
        ChannelDifference all = Assert.Single(Compare(a, b, 1000).Channels);
        Assert.Equal((1d, 64L * 48), (all.Off, all.Odd));
        Assert.Equal([0, 0], all.Worst!);
    }

    /// <summary>Over the union of the data windows, samples that are not there are 0; what else differs is said.</summary>
    [Fact]
    public void Windows_types_and_channels_that_differ_are_said()
    {
        string a = _folder["a.exr"],
            b = _folder["b.exr"];
        Tool.Oiio("--pattern", "constant:color=0.5,0.25", "20x10", "2", "--chnames", "R,Z", "-d", "float", "-o", a);
        Tool.Oiio("--pattern", "constant:color=0.5,0.25", "20x10", "2", "--chnames", "R,N", "--crop", "10x10+0+0", "-d", "half", "-o", b);
        FileDifference found = Compare(a, b, 0);
        Assert.False(found.Equal);
        ChannelDifference red = Assert.Single(found.Channels);
        Assert.Equal((0.5, 0.25, 0.5), (red.Max, red.Mean, red.Off));
        Assert.Equal([10, 0], red.Worst!);
        foreach (
            string note in new[]
            {
                "only in a.exr: Z",
                "only in b.exr: N",
                "R is float in a.exr and half in b.exr",
                "data window is 0, 0 to 19, 9",
            }
        )
        {
            Assert.Contains(found.Notes, n => n.Contains(note));
        }
    }

    [Fact]
    public void A_file_that_cannot_be_read_is_a_note()
    {
        File.WriteAllText(_folder["a.exr"], "no picture");
        FileDifference found = Compare(_folder["a.exr"], Grey("b.exr", "0", "1", 1), 0);
        Assert.False(found.Equal);
        Assert.Contains("a.exr cannot be read", Assert.Single(found.Notes));
    }

    /// <summary>Folders by sequence and frame, with other digits; what has no counterpart is listed.</summary>
    [Fact]
    public void Folders_are_matched_by_sequence_and_frame()
    {
        foreach (
            string name in new[]
            {
                "one/sea.0001.exr",
                "one/sea.0002.exr",
                "one/sea.0003.exr",
                "two/sea.001.exr",
                "two/sea.002.exr",
                "two/still.exr",
            }
        )
        {
            Directory.CreateDirectory(Path.GetDirectoryName(_folder[name])!);
            Grey(name, "0", "1", name.Contains('2') && name.StartsWith("two") ? 7 : 5);
        }

        ComparisonDocument found = FolderComparison.Compare(
            Disk.Folder(_folder["one"]),
            Disk.Folder(_folder["two"]),
            0,
            ReadLimits.Default,
            default
        );
        Assert.Equal("sea.0003.exr", Assert.Single(found.OnlyA));
        Assert.Equal("still.exr", Assert.Single(found.OnlyB));
        Assert.Equal([("sea.0001.exr", "sea.001.exr"), ("sea.0002.exr", "sea.002.exr")], found.Files.Select(f => (f.A, f.B)));
        Assert.False(found.Equal);
        Assert.Contains("\"schema\": \"dune-crate.comparison/1\"", found.Write());
    }

    public void Dispose() => _folder.Dispose();

    private string Grey(string name, string least, string most, int seed)
    {
        Tool.Oiio(
            "--create",
            "64x48",
            "1",
            $"--noise:type=uniform:min={least}:max={most}:seed={seed}",
            "--chnames",
            "Y",
            "-d",
            "float",
            "-o",
            _folder[name]
        );
        return _folder[name];
    }

    private static FileDifference Compare(string a, string b, double tolerance) =>
        FileComparison.Compare(Disk.Listed(a), Disk.Listed(b), tolerance, ReadLimits.Default, default);
}

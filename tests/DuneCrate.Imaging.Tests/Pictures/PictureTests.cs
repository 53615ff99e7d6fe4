using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Pictures;
using DuneCrate.Exr;
using DuneCrate.Imaging.Colour;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Imaging.Tests.Pictures;

/// <summary>Pictures of files that oiiotool wrote, held against its own conversions.</summary>
public sealed class PictureTests : IDisposable
{
    private readonly TempFolder _folder = new();

    /// <summary>Noise over the whole range, with alpha, through sRGB: oiiotool's fast powers may be one code off at a step.</summary>
    [Theory]
    [InlineData(0)]
    [InlineData(2)]
    public void Colour_through_srgb_is_what_oiiotool_makes(int stops)
    {
        string file = Noise("noise.exr", "-0.2", "1.3", "half");
        Tool.Oiio([
            file,
            "--ch",
            "R,G,B",
            "--mulc",
            $"{1 << stops}",
            "--colorconvert",
            "linear",
            "sRGB",
            "-d",
            "uint8",
            "-o",
            _folder["o.ppm"],
        ]);
        byte[] theirs = Ppm(_folder["o.ppm"]),
            ours = Picture(file, null, new PictureSettings { Exposure = stops }).Rgb;
        Assert.All(ours.Zip(theirs), p => Assert.InRange(Math.Abs(p.First - p.Second), 0, 1));
        Assert.InRange(ours.Zip(theirs).Count(p => p.First != p.Second), 0, ours.Length / 500);
    }

    /// <summary>Plain is oiiotool's own rounding to bytes, near and far a scale and an offset.</summary>
    [Fact]
    public void Plain_and_ranged_pictures_are_bytes_of_the_samples()
    {
        string file = Noise("noise.exr", "0", "1", "float");
        Tool.Oiio([file, "--ch", "R,G,B", "-d", "uint8", "-o", _folder["plain.ppm"]]);
        Assert.Equal(Ppm(_folder["plain.ppm"]), Picture(file, null, new PictureSettings { View = PictureView.Plain }).Rgb);
        byte[] ranged = Picture(file, null, new PictureSettings { Near = 0.25, Far = 0.75 }).Rgb;
        Tool.Oiio([file, "--ch", "R,G,B", "--subc", "0.25", "--mulc", "2", "-d", "uint8", "-o", _folder["ranged.ppm"]]);
        byte[] theirs = Ppm(_folder["ranged.ppm"]);
        Assert.All(ranged.Zip(theirs), p => Assert.InRange(Math.Abs(p.First - p.Second), 0, 1));
        Assert.InRange(ranged.Zip(theirs).Count(p => p.First != p.Second), 0, ranged.Length / 1000);
    }

    /// <summary>An 8-bit picture is shown as it is stored: decoded and encoded by the same curve.</summary>
    [Fact]
    public void Pictures_of_eight_bits_are_shown_as_they_are_stored()
    {
        string file = Noise("noise.exr", "0", "1", "float");
        Tool.Oiio(file, "--ch", "R,G,B", "-d", "uint8", "-o", _folder["eight.png"]);
        Tool.Oiio(_folder["eight.png"], "-o", _folder["eight.ppm"]);
        Assert.Equal(Ppm(_folder["eight.ppm"]), Picture(_folder["eight.png"], null, new PictureSettings()).Rgb);
    }

    /// <summary>Premultiplied colour lies over grey as Porter and Duff 1984 say: what is behind shines through by 1 − alpha.</summary>
    [Fact]
    public void Alpha_lies_over_its_ground()
    {
        PassPixels half = Colour(0.2f, 0.2f, 0.2f, 0.5f),
            straight = Colour(0.4f, 0.4f, 0.4f, 0.5f);
        byte grey = CodeTable.Of(PictureView.Srgb, 0, 1)[0.2f + 0.5f * 0.18f];
        Assert.Equal([grey, grey, grey], PictureMaker.Render(half, new PictureSettings { Ground = PictureGround.Grey }).Rgb);
        Assert.Equal(
            [grey, grey, grey],
            PictureMaker.Render(straight, new PictureSettings { Ground = PictureGround.Grey, IsStraight = true }).Rgb
        );
        byte stored = CodeTable.Of(PictureView.Srgb, 0, 1)[0.2f];
        Assert.Equal([stored, stored, stored], PictureMaker.Render(half, new PictureSettings()).Rgb);
        byte brighter = CodeTable.Of(PictureView.Srgb, 0, 1)[0.4f + 0.5f * 0.18f];
        Assert.Equal(brighter, PictureMaker.Render(half, new PictureSettings { Ground = PictureGround.Grey, Exposure = 1 }).Rgb[0]);
    }

    /// <summary>ACEScg's red lies outside what the display shows: more red than 1, and some green and blue below 0.</summary>
    [Fact]
    public void Other_primaries_are_taken_to_the_displays()
    {
        Primaries own = Primaries.OfSpace("ACEScg")!;
        byte[] rgb = PictureMaker.Render(Colour(0.3f, 0.3f, 0.3f, 1), new PictureSettings { Primaries = own }).Rgb;
        byte grey = CodeTable.Of(PictureView.Srgb, 0, 1)[0.3f];
        Assert.All(rgb, b => Assert.InRange(b, grey - 1, grey + 1));
        rgb = PictureMaker.Render(Colour(0.3f, 0, 0, 1), new PictureSettings { Primaries = own }).Rgb;
        Assert.True(rgb[0] > CodeTable.Of(PictureView.Srgb, 0, 1)[0.3f] && rgb[1] == 0 && rgb[2] == 0);
    }

    [Fact]
    public void Odd_samples_are_marked_and_lost_lines_hatched()
    {
        float[] plane = [.. Enumerable.Range(0, 64).Select(i => i < 32 ? -1f : 2f)];
        var pass = new PassPixels(
            "beauty",
            PassCatalogue.Shipped.Find("beauty"),
            PixelBox.OfSize(8, 8),
            1,
            [("R", plane), ("G", plane), ("B", plane)],
            null
        )
        {
            Lost = [.. Enumerable.Range(0, 8).Select(y => y == 7)],
        };
        byte[] rgb = PictureMaker.Render(pass, new PictureSettings { Marks = PictureMarks.Negative | PictureMarks.Above }).Rgb;
        Assert.Equal(new byte[] { 40, 90, 255 }, rgb[..3]);
        Assert.Equal(new byte[] { 255, 210, 0 }, rgb.AsSpan(3 * (5 * 8 + 4), 3).ToArray());
        Assert.NotEqual(rgb.AsSpan(3 * 7 * 8, 3).ToArray(), rgb.AsSpan(3 * (7 * 8 + 1), 3).ToArray());
        Assert.InRange(rgb[3 * 7 * 8], 80, 160);
    }

    [Fact]
    public void Stops_around_middle_grey_are_flat_bands()
    {
        Assert.Equal((128, 128, 128), FalseColours.OfLuminance(0.18f));
        Assert.Equal(FalseColours.OfLuminance(0.36f), FalseColours.OfLuminance(0.40f));
        Assert.NotEqual(FalseColours.OfLuminance(0.36f), FalseColours.OfLuminance(0.18f));
        byte[] rgb = PictureMaker
            .Render(Colour(0.09f, 0.09f, 0.09f, 1), new PictureSettings { Mode = PictureMode.Stops, Exposure = 1 })
            .Rgb;
        Assert.Equal(new byte[] { 128, 128, 128 }, rgb);
    }

    /// <summary>A part, channels by name and a pass by alias of a multi-part file that oiiotool wrote.</summary>
    [Fact]
    public void Any_part_channel_or_pass_can_be_chosen()
    {
        string file = _folder["parts.exr"];
        Tool.Oiio(
            "--pattern",
            "constant:color=0.1,0.2,0.3",
            "8x8",
            "3",
            "--pattern",
            "constant:color=5",
            "8x8",
            "1",
            "--chnames",
            "Z",
            "--siappend",
            "-d",
            "float",
            "-o",
            file
        );
        Assert.Equal(0.3f, Pixels(file, null, ["B"], 0).Channels[0].Plane[0], 5);
        Assert.Equal(("depth", 5f), (Pixels(file, "zdepth", [], null).Pass, Pixels(file, "z", [], null).Channels[0].Plane[0]));
        Assert.Equal(["R", "G", "B"], Pixels(file, null, [], null).Channels.Select(c => c.Channel));
        foreach (
            (Action ask, string said) in new (Action, string)[]
            {
                (() => Pixels(file, "normal", [], null), "no pass normal; it has beauty, depth"),
                (() => Pixels(file, null, ["Q"], null), "no channel Q; it has"),
                (() => Pixels(file, null, [], 4), "no part 4; its parts are 0 to 1"),
            }
        )
        {
            Assert.Contains(said, Assert.Throws<FormatException>(ask).Message);
        }
    }

    /// <summary>Beyond the data window there is nothing; a piece is the piece of the whole.</summary>
    [Fact]
    public void Pixels_are_placed_on_a_box_and_cut()
    {
        var pass = new PassPixels("depth", null, new PixelBox(2, 3, 4, 4), 1, [("Z", [1, 2, 3, 4, 5, 6])], null);
        Assert.Equal([0, 0, 0, 0, 0, 1, 2, 3, 0, 4, 5, 6], pass.On(new PixelBox(1, 2, 4, 4)).Channels[0].Plane);
        PassPixels cut = pass.Cut(1, 0, 9, 9);
        Assert.Equal((new PixelBox(3, 3, 4, 4), 2, 2), (cut.Window, cut.Width, cut.Height));
        Assert.Equal([2, 3, 5, 6], cut.Channels[0].Plane);
    }

    public void Dispose() => _folder.Dispose();

    private string Noise(string name, string least, string most, string type)
    {
        Tool.Oiio(
            "--create",
            "64x48",
            "4",
            $"--noise:type=uniform:min={least}:max={most}:seed=3",
            "--chnames",
            "R,G,B,A",
            "-d",
            type,
            "-o",
            _folder[name]
        );
        return _folder[name];
    }

    private static PassPixels Colour(params float[] rgba) =>
        new(
            "beauty",
            PassCatalogue.Shipped.Find("beauty"),
            PixelBox.OfSize(1, 1),
            1,
            [.. "RGBA".Zip(rgba, (c, v) => ($"{c}", new[] { v }))],
            null
        );

    private static PassPixels Pixels(string file, string? pass, string[] channels, int? part)
    {
        IntakeFile listed = Disk.Listed(file);
        FileFacts facts = FactsReader.Read(listed, new FactsRequest(FactsDepth.Header), ReadLimits.Default, default);
        return PassChoice
            .Find(facts, PassCatalogue.Shipped, pass, channels, part)
            .Read(listed, PassCatalogue.Shipped, ReadLimits.Default, default);
    }

    private static Picture Picture(string file, string? pass, PictureSettings settings) =>
        PictureMaker.Render(Pixels(file, pass, [], null), settings);

    /// <summary>The bytes of a binary portable pixmap.</summary>
    private static byte[] Ppm(string path)
    {
        byte[] bytes = File.ReadAllBytes(path);
        int at = 0;
        for (int words = 0; words < 4; at++)
        {
            words += char.IsWhiteSpace((char)bytes[at]) ? 1 : 0;
        }

        return bytes[at..];
    }
}

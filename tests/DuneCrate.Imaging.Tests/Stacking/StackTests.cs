using System.Globalization;
using System.IO.Compression;
using System.Xml.Linq;
using DuneCrate.Exr;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Planning.Suggestions;
using DuneCrate.StandIns.Renderer;
using NetVips;

namespace DuneCrate.Imaging.Tests.Stacking;

/// <summary>Composites of files that oiiotool wrote, against what oiiotool makes of them and against the formulas written out.</summary>
public sealed class StackTests : IDisposable
{
    private readonly TempFolder _folder = new();

    private StackedFrame Make(string strips, int frame = 1, int width = 40, int height = 30) =>
        new StackCompositor(Recipe(strips, width, height), Disk.Folder(_folder.Path), ReadLimits.Default).Make(frame, default);

    private static StackRecipe Recipe(string strips, int width = 40, int height = 30) =>
        StackRecipe.Read(
            $$"""{ "schema": "dune-crate.stack/1", "width": {{width}}, "height": {{height}}, "frames": "1", "strips": [ {{strips}} ] }"""
        );

    private static string Strip(string name, string source, string alpha, string operation, string more = "") =>
        $$"""
            { "name": "{{name}}", "source": "{{source}}", "channels": ["R", "G", "B"{{(
                alpha == "none" ? "" : ", \"A\""
            )}}], "alpha": "{{alpha}}", "operation": "{{operation}}" {{more}} }
            """;

    /// <summary>Premultiplied noise with an alpha that is noise too.</summary>
    private void Noise(string name, int seed) =>
        Tool.Picture(
            _folder[name],
            "--create",
            "40x30",
            "4",
            $"--noise:type=uniform:min=0:max=1:seed={seed}",
            "--chnames",
            "R,G,B,A",
            "--premult",
            "-d",
            "float"
        );

    private float[][] Theirs(params string[] arguments)
    {
        string to = _folder["theirs.exr"];
        Tool.Oiio([.. arguments, "-d", "float", "-o", to]);
        using ExrFile file = Disk.Exr(to);
        ExrImage image = ExrImage.Read(file, file.Parts[0], null, out _, default);
        return [.. "RGBA".Select(c => image.Planes[c.ToString()])];
    }

    private static void AssertNear(float[][] wanted, float[][] found, int planes)
    {
        for (int c = 0; c < planes; c++)
        {
            for (int i = 0; i < wanted[c].Length; i++)
            {
                Assert.Equal(wanted[c][i], found[c][i], 1e-5f);
            }
        }
    }

    [Theory]
    [InlineData("over", "--over", 4)]
    [InlineData("plus", "--add", 3)]
    [InlineData("difference", "--absdiff", 3)]
    [InlineData("minimum", "--min", 3)]
    [InlineData("maximum", "--max", 3)]
    public void Operations_are_those_of_oiiotool(string operation, string theirs, int planes)
    {
        Noise("a.exr", 1);
        Noise("b.exr", 2);
        StackedFrame made = Make(Strip("b", "b.exr", "premultiplied", "over") + "," + Strip("a", "a.exr", "premultiplied", operation));
        Assert.Empty(made.Problems);
        AssertNear(Theirs(_folder["a.exr"], _folder["b.exr"], theirs), made.Planes, planes);
    }

    [Fact]
    public void Multiplying_what_has_no_alpha_is_that_of_oiiotool()
    {
        Noise("a.exr", 1);
        Noise("b.exr", 2);
        StackedFrame made = Make(Strip("b", "b.exr", "premultiplied", "over") + "," + Strip("a", "a.exr", "none", "multiply"));
        AssertNear(Theirs(_folder["a.exr"], _folder["b.exr"], "--mul"), made.Planes, 3);
    }

    /// <summary>
    /// The formulas of dune-crate.stack/1 at one pixel: S = (0.2, 0.4, 0.1), α = 0.5, B = (0.6, 0.3, 0.9), β = 0.8, w = 0.75 · 0.4.
    /// </summary>
    [Theory]
    [InlineData("over", 0.2 * 0.3 + 0.6 * (1 - 0.15), 0.15 + 0.8 * 0.85)]
    [InlineData("under", 0.6 + 0.2 * 0.3 * 0.2, 0.8 + 0.15 * 0.2)]
    [InlineData("plus", 0.6 + 0.06, 0.8)]
    [InlineData("multiply", 0.6 * (0.7 + 0.3 * 0.7), 0.8)]
    [InlineData("screen", 0.6 + 0.06 - 0.3 * 0.2 * 0.6, 0.8)]
    [InlineData("minimum", 0.6 * 0.7 + 0.3 * 0.2, 0.8)]
    [InlineData("maximum", 0.6, 0.8)]
    [InlineData("difference", 0.6 * 0.7 + 0.3 * 0.4, 0.8)]
    [InlineData("holdout", 0.6 * (1 - 0.15), 0.8 * 0.85)]
    [InlineData("keep", 0.6 * (1 - 0.3 + 0.15), 0.8 * (1 - 0.3 + 0.15))]
    public void Formulas_are_those_of_the_contract(string operation, double red, double alpha)
    {
        Flat("b.exr", 0.6, 0.3, 0.9, 0.8);
        Flat("s.exr", 0.2, 0.4, 0.1, 0.5);
        Flat("m.exr", 0.6, 0, 0, 0);
        StackedFrame made = Make(
            Strip("b", "b.exr", "premultiplied", "over")
                + ","
                + Strip(
                    "s",
                    "s.exr",
                    "premultiplied",
                    operation,
                    """, "opacity": 0.75, "mask": { "source": "m.exr", "channel": "R", "invert": true } """
                )
        );
        Assert.Equal(red, made.Planes[0][17], 6);
        Assert.Equal(alpha, made.Planes[3][17], 6);
    }

    private void Flat(string name, params double[] colour) =>
        Tool.Picture(
            _folder[name],
            "--pattern",
            $"constant:color={string.Join(',', colour.Select(c => c.ToString(CultureInfo.InvariantCulture)))}",
            "40x30",
            "4",
            "--chnames",
            "R,G,B,A",
            "-d",
            "float"
        );

    [Fact]
    public void Straight_colour_gain_offset_and_stills_are_as_said()
    {
        Flat("straight.0007.exr", 0.5, 0.25, 1, 0.5);
        Flat("held.0003.exr", 0.1, 0.1, 0.1, 1);
        StackedFrame made = Make(
            Strip("held", "held.####.exr", "premultiplied", "over", """, "hold": 3 """)
                + ","
                + Strip("straight", "straight.####.exr", "straight", "over", """, "offset": 2, "gain": 1 """),
            frame: 5
        );
        Assert.Empty(made.Problems);
        Assert.Equal(0.5 * 2 * 0.5 + 0.1 * 0.5, made.Planes[0][0], 6);
        Assert.Equal(1, made.Planes[3][0], 6);
    }

    [Fact]
    public void Windows_lie_where_they_are_and_8_bits_are_decoded()
    {
        Tool.Oiio(
            "--create",
            "40x30",
            "4",
            "--fill:color=1,1,1,1",
            "10x5+3+4",
            "--chnames",
            "R,G,B,A",
            "--crop",
            "10x5+3+4",
            "-o",
            _folder["crop.exr"]
        );
        Tool.Oiio("--pattern", "constant:color=0.5,0.5,0.5", "40x30", "3", "-d", "uint8", "-o", _folder["plate.png"]);
        StackedFrame made = Make(Strip("plate", "plate.png", "none", "over") + "," + Strip("crop", "crop.exr", "premultiplied", "over"));
        Assert.Empty(made.Problems);
        double grey = Imaging.Colour.SrgbCurve.Decode(128 / 255.0);
        Assert.Equal(1, made.Planes[1][4 * 40 + 3]);
        Assert.Equal(grey, made.Planes[1][4 * 40 + 2], 4);
        Assert.Equal(1, made.Planes[1][8 * 40 + 12]);
        Assert.Equal(grey, made.Planes[1][9 * 40 + 12], 4);
    }

    [Fact]
    public void What_is_not_there_is_left_out_and_told()
    {
        Noise("b.exr", 2);
        File.WriteAllText(_folder["broken.exr"], "no picture");
        StackedFrame made = Make(
            string.Join(
                ',',
                Strip("b", "b.exr", "premultiplied", "over"),
                Strip("gone", "gone.####.exr", "none", "over"),
                Strip("broken", "broken.exr", "none", "over"),
                Strip("out", "../b.exr", "none", "over"),
                """{ "name": "other", "source": "b.exr", "channels": ["X.R"], "alpha": "none", "operation": "plus" }"""
            )
        );
        Assert.Equal(4, made.Problems.Length);
        Assert.Contains("gone at 1 is left out: gone.0001.exr: there is no such file", made.Problems);
        Assert.Contains(made.Problems, p => p.Contains("has none of X.R"));
        AssertNear(Theirs(_folder["b.exr"]), made.Planes, 4);
        Assert.Contains("at the top left", Make(Strip("b", "b.exr", "premultiplied", "over"), 1, 50, 20).Problems.Single());
    }

    [Theory]
    [InlineData("""{ "schema": "dune-crate.stack/2", "width": 4, "height": 4, "strips": [] }""", "its schema is")]
    [InlineData("""{ "schema": "dune-crate.stack/1", "width": 4, "height": 4, "strips": [] }""", "1 to 1000 strips")]
    [InlineData("""{ "schema": "dune-crate.stack/1", "width": 0, "height": 4, "strips": [] }""", "width and height")]
    [InlineData("""{ "schema": "dune-crate.stack/1" }""", "cannot be read")]
    [InlineData("not json", "cannot be read")]
    public void Recipes_that_cannot_be_used_say_why(string json, string said) =>
        Assert.Contains(said, Assert.Throws<FormatException>(() => StackRecipe.Read(json)).Message);

    [Theory]
    [InlineData("""{ "name": "s", "source": "s.exr", "channels": ["R", "G"], "operation": "over" }""", "one or three")]
    [InlineData("""{ "name": "s", "source": "s.exr", "channels": ["R"], "operation": "above" }""", "cannot be read")]
    [InlineData("""{ "name": "s", "source": "s.exr", "channels": ["R"], "operation": "over", "opacity": 2 }""", "opacity")]
    [InlineData("""{ "name": "s", "source": "s.exr", "channels": ["R"], "operation": "over", "gain": 100 }""", "stops")]
    public void Strips_that_cannot_be_used_say_why(string strip, string said) =>
        Assert.Contains(said, Assert.Throws<FormatException>(() => Recipe(strip)).Message);

    /// <summary>
    /// OpenRaster 0.0.5: the mimetype first and stored, so that its name and content stand at bytes 30 and 38; layers from the top.
    /// </summary>
    [Fact]
    public void OpenRaster_has_every_strip()
    {
        Noise("a.exr", 1);
        Noise("b.exr", 2);
        StackRecipe recipe = Recipe(
            Strip("below", "b.exr", "premultiplied", "over") + "," + Strip("above", "a.exr", "premultiplied", "plus", ", \"opacity\": 0.5")
        );
        using var file = new MemoryStream();
        OpenRaster.Write(file, recipe, new StackCompositor(recipe, Disk.Folder(_folder.Path), ReadLimits.Default), 1, default);
        byte[] bytes = file.ToArray();
        Assert.Equal("mimetypeimage/openraster", System.Text.Encoding.ASCII.GetString(bytes, 30, 24));
        Assert.Equal(0, BitConverter.ToInt16(bytes, 8)); // Stored.
        using var zip = new ZipArchive(new MemoryStream(bytes));
        using Stream xml = zip.GetEntry("stack.xml")!.Open();
        XElement image = XElement.Load(xml);
        Assert.Equal(["above", "below"], image.Descendants("layer").Select(l => (string)l.Attribute("name")!));
        Assert.Equal("svg:plus", (string)image.Descendants("layer").First().Attribute("composite-op")!);
        Assert.Equal("0.5", (string)image.Descendants("layer").First().Attribute("opacity")!);
        foreach (string name in image.Descendants("layer").Select(l => (string)l.Attribute("src")!).Append("mergedimage.png"))
        {
            using Stream entry = zip.GetEntry(name)!.Open();
            using var copy = new MemoryStream();
            entry.CopyTo(copy);
            using Image png = Image.NewFromBuffer(copy.ToArray());
            Assert.Equal((40, 30, 4), (png.Width, png.Height, png.Bands));
        }

        Assert.NotNull(zip.GetEntry("Thumbnails/thumbnail.png"));
    }

    [Fact]
    public void A_plan_proposes_far_layers_first_and_no_data()
    {
        Plan plan = StandInPlan.Create("KP010", FrameSet.Range(1001, 1002), 64, 36);
        StackRecipe proposed = StackProposal.From(plan, _ => true);
        Assert.Equal(["seabed", "kelp", "sub"], proposed.Strips.Select(s => s.Name.Split(' ')[0]).Distinct());
        Assert.DoesNotContain(proposed.Strips, s => s.Name.Contains("depth") || s.Name.Contains("id"));
        Assert.All(proposed.Strips.Where(s => s.Name.Contains("matte")), s => Assert.Equal(0, s.Opacity));
        Assert.Equal(3, proposed.Strips.Count(s => s.Opacity == 1));
        Assert.Equal(proposed.Strips.Length, StackRecipe.Read(proposed.Write()).Strips.Length);
        StackStrip[] sub = [.. proposed.Strips.Where(s => s.Name.StartsWith("sub", StringComparison.Ordinal))];
        Assert.True(
            Array.FindIndex(sub, s => s.Name.Contains("shadow")) < Array.FindIndex(sub, s => s.Name == "sub beauty"),
            "a shadow lies below its caster"
        );
        Assert.Equal("seabed beauty", proposed.Strips[0].Name); // A shadow below everything would fall on nothing.
    }

    public void Dispose() => _folder.Dispose();
}

using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Pictures;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Imaging.Tests.Stacking;

public class StackingTests
{
    private static readonly RebuildRecipe Recipe = new(
        ["R", "G", "B"],
        [
            new RebuildRecipeTerm(
                "diffuse",
                [
                    ["d.R", "d.G", "d.B"],
                ]
            ),
            new RebuildRecipeTerm(
                "albedo × irradiance",
                [
                    ["a.R", "a.G", "a.B"],
                    ["i.R", "i.G", "i.B"],
                ]
            ),
        ]
    );

    private static Dictionary<string, float[]> Planes(int size, float diffuse, float albedo, float irradiance, float beauty)
    {
        var planes = new Dictionary<string, float[]>();
        foreach (char c in "RGB")
        {
            planes[$"{c}"] = [.. Enumerable.Repeat(beauty, size)];
            planes[$"d.{c}"] = [.. Enumerable.Repeat(diffuse, size)];
            planes[$"a.{c}"] = [.. Enumerable.Repeat(albedo, size)];
            planes[$"i.{c}"] = [.. Enumerable.Repeat(irradiance, size)];
        }

        return planes;
    }

    /// <summary>The rebuild of planes that lie in two files: the beauty in one, the terms in the other.</summary>
    private static RebuildPixels Rebuilt(Dictionary<string, float[]> planes, PixelBox window)
    {
        using var folder = new TempFolder();
        ImmutableArray<string> beauty = ["R", "G", "B"],
            terms = [.. planes.Keys.Where(k => k.Contains('.'))];
        foreach ((string name, ImmutableArray<string> channels) in new[] { ("beauty.exr", beauty), ("terms.exr", terms) })
        {
            var part = new ExrPart(channels.Select(c => new ExrChannel(c, ExrPixelType.Float)), window, window, ExrCompression.Zip, []);
            ExrWriter.Write(Disk.File(folder[name]), new ExrImage(part, channels.ToImmutableDictionary(c => c, c => planes[c])));
        }

        using RebuildLines lines = RebuildLines.Open(
            Recipe,
            [(Disk.File(folder["beauty.exr"]), beauty, null), (Disk.File(folder["terms.exr"]), terms, null)],
            ReadLimits.Default
        );
        return RebuildPixels.Compute(Recipe, lines, 1, [], default);
    }

    [Fact]
    public void Sums_with_products_leave_no_residual()
    {
        RebuildPixels rebuild = Rebuilt(Planes(12, 0.25f, 0.5f, 2f, 1.25f), PixelBox.OfSize(4, 3));
        Assert.Equal(0, rebuild.Facts.MeanResidual);
        Assert.Equal(0, rebuild.Facts.OffShare);
        Assert.All(rebuild.Residual, r => Assert.Equal(0, r));
        Assert.All(rebuild.Sum[1], s => Assert.Equal(1.25f, s));
    }

    [Fact]
    public void Residuals_are_counted_as_the_rule_says()
    {
        // Beauty 1, sum 1 but in 2 of 10 pixels, where it lacks 0.1 in red: mean |r| = 0.2 / 30, mean beauty = 1.
        Dictionary<string, float[]> planes = Planes(10, 0, 1, 1, 1);
        (planes["i.R"][3], planes["i.R"][7]) = (0.9f, 0.9f);
        RebuildFacts facts = Rebuilt(planes, new PixelBox(5, 2, 14, 2)).Facts;
        Assert.Equal(0.2 / 30, facts.MeanResidual, 6);
        Assert.Equal(0.2, facts.OffShare, 9);
        Assert.Equal(0.1, facts.MaxResidual, 6);
        Assert.Equal([8, 2], facts.Worst!);
    }

    [Fact]
    public void A_difference_below_the_floor_is_not_off()
    {
        // 2 % of max(beauty, 0.05) = 0.001.
        Assert.Equal(0, Rebuilt(Planes(4, 0.0009f, 0, 0, 0), PixelBox.OfSize(2, 2)).Facts.OffShare);
        Assert.Equal(1, Rebuilt(Planes(4, 0.0011f, 0, 0, 0), PixelBox.OfSize(2, 2)).Facts.OffShare);
    }

    [Fact]
    public void The_one_black_term_is_named_guilty() =>
        Assert.Equal("diffuse", Rebuilt(Planes(4, 0, 0.5f, 1, 1), PixelBox.OfSize(2, 2)).Facts.Guilty);

    [Fact]
    public void A_term_counted_twice_is_named_guilty()
    {
        var random = new Random(3);
        Dictionary<string, float[]> planes = Planes(400, 0, 1, 1, 0);
        foreach (char c in "RGB")
        {
            for (int i = 0; i < 400; i++)
            {
                float d = random.NextSingle(),
                    a = random.NextSingle() < 0.5f ? 0 : 2;
                (planes[$"d.{c}"][i], planes[$"a.{c}"][i], planes[$"{c}"][i]) = (2 * d * d * d, a, d * d * d + a);
            }
        }

        RebuildFacts facts = Rebuilt(planes, PixelBox.OfSize(20, 20)).Facts;
        Assert.Equal("diffuse", facts.Guilty);
        Assert.True(facts.Terms[0].Likeness < -0.9);
    }

    [Fact]
    public void Samples_that_are_no_numbers_do_not_spoil_the_measure()
    {
        Dictionary<string, float[]> planes = Planes(10, 0, 1, 1, 1);
        (planes["R"][4], planes["d.G"][5]) = (float.NaN, float.PositiveInfinity);
        RebuildFacts facts = Rebuilt(planes, PixelBox.OfSize(10, 1)).Facts;
        Assert.True(double.IsFinite(facts.MeanResidual));
        Assert.Equal(0, facts.OffShare);
    }

    [Fact]
    public void A_recipe_needs_a_beauty_and_every_term()
    {
        Plan plan = DuneCrate.StandIns.Renderer.StandInPlan.Create("KP010", FrameSet.Single(1001));
        Assert.Equal(6, RebuildRecipe.From(plan.Layers[0])!.Terms.Length);
        Assert.Null(RebuildRecipe.From(plan.Layers[0] with { Rebuild = [] }));
        Assert.Null(RebuildRecipe.From(plan.Layers[0] with { Rebuild = [new RebuildTerm("volume")] }));
        Assert.NotEqual(RebuildRecipe.From(plan.Layers[0])!.Signature, RebuildRecipe.From(plan.Layers[1])!.Signature);
    }

    [Theory]
    [InlineData(0, 0.5, 188)] // sRGB encoding of 0.5 is 187.5 of 255: IEC 61966-2-1.
    [InlineData(1, 0.25, 188)]
    [InlineData(-1, 1, 188)]
    [InlineData(0, 4, 255)]
    [InlineData(0, -1, 0)]
    public void Colour_is_shown_with_exposure_through_srgb(double stops, double value, int shown)
    {
        Picture picture = PictureMaker.Render(Pass("diffuse", (float)value), new PictureSettings { Exposure = stops });
        Assert.InRange(picture.Rgb[0], shown - 1, shown + 1);
    }

    [Fact]
    public void Data_is_shown_between_near_and_far_without_a_view_transform()
    {
        var depth = new PassPixels("depth", PassCatalogue.Shipped.Find("depth"), PixelBox.OfSize(3, 1), 1, [("Z", [2, 4, 6])], null);
        Assert.Equal(
            new byte[] { 0, 128, 255 },
            PictureMaker.Render(depth, new PictureSettings { Near = 2, Far = 6 }).Rgb.Where((_, i) => i % 3 == 0)
        );
        Assert.Equal((2f, 6f), PictureMaker.Range([2, 4, 6]));
        Assert.Equal((2f, 6f), PictureMaker.Range([2, 6, 1000, 1000]));
    }

    [Fact]
    public void Samples_that_are_no_numbers_stand_out()
    {
        byte[] rgb = PictureMaker.Render(Pass("beauty", float.NaN), new PictureSettings()).Rgb;
        Assert.Equal(new byte[] { 255, 0, 170 }, rgb[..3]);
    }

    [Fact]
    public void Ids_are_shown_as_colours_that_differ()
    {
        byte[] rgb = PictureMaker
            .Render(
                new PassPixels(
                    "object_id",
                    PassCatalogue.Shipped.Find("object_id"),
                    PixelBox.OfSize(3, 1),
                    1,
                    [("object_id.Y", [0, 1, 2])],
                    null
                ),
                new PictureSettings()
            )
            .Rgb;
        Assert.Equal(new byte[] { 0, 0, 0 }, rgb[..3]);
        Assert.NotEqual(rgb[3..6], rgb[6..9]);
    }

    [Fact]
    public void Heat_is_dark_at_zero_and_white_at_full()
    {
        byte[] rgb = PictureMaker.Heat([0, 0.1f, 9], 3, 1, 0.1).Rgb;
        Assert.True(rgb[0] < 60 && rgb[3] > 250 && rgb[6] > 250);
    }

    [Fact]
    public void Pngs_read_back_in_libvips_with_the_same_pixels()
    {
        var picture = new Picture(5, 4, [.. Enumerable.Range(0, 60).Select(i => (byte)(i * 4))]);
        using NetVips.Image image = NetVips.Image.NewFromBuffer(picture.ToPng());
        Assert.Equal((5, 4), (image.Width, image.Height));
        Assert.Equal(picture.Rgb, image.WriteToMemory<byte>());
        using NetVips.Image small = NetVips.Image.NewFromBuffer(new Picture(64, 32, new byte[64 * 32 * 3]).ToPng(16));
        Assert.Equal((16, 8), (small.Width, small.Height));
    }

    private static PassPixels Pass(string key, float value) =>
        new(
            key,
            PassCatalogue.Shipped.Find(key),
            PixelBox.OfSize(1, 1),
            1,
            [.. new[] { "R", "G", "B" }.Select(c => ($"{key}.{c}", new[] { value }))],
            null
        );
}

using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Imaging.Stacking.Looks;
using DuneCrate.Planning.Suggestions;
using DuneCrate.StandIns.Renderer;
using NetVips;

namespace DuneCrate.Imaging.Tests.Stacking;

/// <summary>Looks that passes are tried for, masks by id and name, and strips that are kept.</summary>
public sealed class LookTests : IDisposable
{
    private readonly TempFolder _folder = new();

    private const string Constant = """"{ "name": "ground", "source": "ground.exr", "channels": ["R", "G", "B"] }"""";

    private StackRecipe Recipe(string strips, int width, int height) =>
        StackRecipe.Read($$"""{ "schema": "dune-crate.stack/1", "width": {{width}}, "height": {{height}}, "strips": [ {{strips}} ] }""");

    private StackedFrame Make(string strips, int width, int height, int frame = 1) =>
        new StackCompositor(Recipe(strips, width, height), Disk.Folder(_folder.Path), ReadLimits.Default).Make(frame, default);

    /// <summary>
    /// Focused at the hyperfocal distance the circle at infinity is the one it was found for, and half that distance has the same circle:
    /// the
    /// rule of every depth-of-field table. 50 mm at f/8 and 0.03 mm: 10.47 m (Conrad, "Depth of Field in Depth", table of hyperfocal
    /// distances; from memory).
    /// </summary>
    [Fact]
    public void Circles_of_confusion_are_those_of_depth_of_field_tables()
    {
        const double hyperfocal = 50.0 * 50 / (8 * 0.03) + 50; // f² / (N c) + f
        Assert.Equal(10_466.7, hyperfocal, 0.1);
        var lens = new ThinLens(50, 8, hyperfocal);
        Assert.Equal(0.03, lens.CircleAtInfinity, 1e-6);
        Assert.Equal(0.03, lens.CircleAt(hyperfocal / 2), 2e-4);
        Assert.Equal(0, lens.CircleAt(hyperfocal));
        Assert.Equal(0, lens.CircleAt(0));
    }

    [Fact]
    public void Circles_are_in_pixels_of_the_film()
    {
        float[] circles = new float[3];
        // 50 mm at f/2, focused at 2 m: a point at 4 m has a circle of 25 · (2 / 4) · 50 / 1950 mm; film of 36 mm on 1,920 pixels.
        ThinLens.Circles(
            new StripLook(LookKind.Focus)
            {
                FocalLength = 50,
                FStop = 2,
                FocusDistance = 2,
            },
            [2, 4, 0],
            1920,
            circles
        );
        Assert.Equal([0, (float)(25 * 0.5 * 50 / 1950 / 36 * 1920), 0], circles);
    }

    [Fact]
    public void Glow_is_the_gaussian_of_libvips()
    {
        Tool.Oiio("--create", "80x60", "3", "--noise:type=uniform:min=0:max=2:seed=5", "-d", "float", "-o", _folder["glow.exr"]);
        Tool.Oiio("--create", "80x60", "3", "-d", "float", "-o", _folder["ground.exr"]);
        StackedFrame made = Make(
            Constant
                + """
                , { "name": "glow", "source": "glow.exr", "channels": ["R", "G", "B"], "look": { "kind": "glow", "radius": 8 } }
                """,
            80,
            60
        );
        using ExrFile file = Disk.Exr(_folder["glow.exr"]);
        float[] red = ExrImage.Read(file, file.Parts[0], null, out _, default).Planes["R"];
        using Image source = Image.NewFromMemory(red, 80, 60, 1, Enums.BandFormat.Float);
        // 0.0111 is what a Gaussian has left at three standard deviations, where ours ends too.
        using Image blurred = source.Gaussblur(4, minAmpl: 0.0111, precision: Enums.Precision.Float);
        float[] theirs = blurred.WriteToMemory<float>();
        for (int y = 14; y < 46; y++)
        {
            for (int x = 14; x < 66; x++)
            {
                Assert.Equal(theirs[y * 80 + x], made.Planes[0][y * 80 + x], 2e-3f);
            }
        }
    }

    [Fact]
    public void Fog_takes_half_of_the_light_in_its_half_distance()
    {
        Tool.Oiio("--pattern", "constant:color=0.8,0.4,0.2", "8x4", "3", "-d", "float", "-o", _folder["ground.exr"]);
        Tool.Oiio("--pattern", "constant:color=14", "8x4", "1", "--chnames", "Z", "-d", "float", "-o", _folder["z.exr"]);
        StackedFrame made = Make(
            Constant
                + """
                , { "name": "fog", "source": "z.exr", "channels": ["Z"],
                    "look": { "kind": "fog", "near": 4, "half": 10, "colour": [0.1, 0.2, 0.4] } }
                """,
            8,
            4
        );
        Assert.Equal(0.5f * 0.8f + 0.5f * 0.1f, made.Planes[0][9], 1e-6f);
        Assert.Equal(0.5f * 0.2f + 0.5f * 0.4f, made.Planes[2][9], 1e-6f);
    }

    [Fact]
    public void Focus_leaves_what_is_sharp_and_keeps_the_light_of_what_is_not()
    {
        // A bright square far behind a sharp plane: blurred behind its own edge, and the light stays about the same.
        Tool.Oiio("--create", "96x96", "3", "--fill:color=9,9,9", "8x8+44+44", "-d", "float", "-o", _folder["ground.exr"]);
        Tool.Oiio("--pattern", "constant:color=8", "96x96", "1", "--chnames", "Z", "-d", "float", "-o", _folder["z.exr"]);
        string Look(double at) =>
            Constant
            + $$"""
                , { "name": "focus", "source": "z.exr", "channels": ["Z"],
                    "look": { "kind": "focus", "focalLength": 85, "fStop": 1.4, "focusDistance": {{at}}, "filmWidth": 36 } }
                """;
        StackedFrame sharp = Make(Look(8), 96, 96),
            soft = Make(Look(2), 96, 96);
        Assert.Equal(9, sharp.Planes[0][48 * 96 + 48]);
        Assert.Equal(0, sharp.Planes[0][43 * 96 + 43]);
        Assert.True(soft.Planes[0][44 * 96 + 44] < 6);
        Assert.True(soft.Planes[0][48 * 96 + 42] > 0.1);
        Assert.InRange(soft.Planes[0].Sum(), 0.85 * 9 * 64, 1.15 * 9 * 64);
    }

    [Fact]
    public void Relight_is_the_beauty_with_the_lamp_at_its_new_light()
    {
        foreach ((string name, int seed) in new[] { ("key.exr", 1), ("rim.exr", 2) })
        {
            Tool.Oiio("--create", "20x10", "3", $"--noise:type=uniform:min=0:max=1:seed={seed}", "-d", "float", "-o", _folder[name]);
        }

        Tool.Oiio(_folder["key.exr"], _folder["rim.exr"], "--add", "-d", "float", "-o", _folder["ground.exr"]);
        Tool.Oiio(_folder["rim.exr"], "--mulc", "2,1,0.5", _folder["key.exr"], "--add", "-d", "float", "-o", _folder["wanted.exr"]);
        StackedFrame made = Make(
            Constant
                + """
                , { "name": "rim up", "source": "rim.exr", "channels": ["R", "G", "B"], "gain": 1,
                    "look": { "kind": "relight", "colour": [1, 0.5, 0.25] } }
                """,
            20,
            10
        );
        using ExrFile file = Disk.Exr(_folder["wanted.exr"]);
        ExrImage wanted = ExrImage.Read(file, file.Parts[0], null, out _, default);
        for (int c = 0; c < 3; c++)
        {
            Assert.All(wanted.Planes["RGB"[c].ToString()].Zip(made.Planes[c]), p => Assert.Equal(p.First, p.Second, 1e-5f));
        }
    }

    [Fact]
    public void Vectors_blur_along_their_way_as_a_box_does()
    {
        Tool.Oiio("--create", "41x3", "3", "--fill:color=1,1,1", "1x3+20+0", "-d", "float", "-o", _folder["ground.exr"]);
        Tool.Oiio("--pattern", "constant:color=8,0", "41x3", "2", "--chnames", "motion.X,motion.Y", "-d", "float", "-o", _folder["mv.exr"]);
        StackedFrame made = Make(
            Constant
                + """
                , { "name": "shutter", "source": "mv.exr", "channels": ["motion.X", "motion.Y"],
                    "look": { "kind": "blur", "shutter": 0.5 } }
                """,
            41,
            3
        );
        // 8 pixels a frame, open for half of it: five taps over four pixels.
        Assert.Equal([0, 0.2f, 0.2f, 0.2f, 0.2f, 0.2f, 0], made.Planes[0].AsSpan(41 + 17, 7).ToArray(), (a, b) => Math.Abs(a - b) < 1e-6);
    }

    [Fact]
    public void Masks_are_channels_ids_and_names()
    {
        Plan plan = StandInPlan.Create("KP010", FrameSet.Range(1001, 1001), 96, 54);
        Disk.Render(plan, _folder.Path, null, []);
        PlannedOutput[] outputs = [.. PlannedOutput.From(plan).Where(o => o.Layer.Name == "sub")];
        string FileOf(string pass) => outputs.First(o => o.Passes.Any(p => p.Pass == pass)).Name.ToString();
        string Masked(string mask) =>
            $$"""
                { "name": "light", "source": "sub/KP010_sub.####.exr", "channels": ["R", "G", "B", "A"], "alpha": "none",
                  "operation": "plus", "mask": {{mask}} }
                """;
        string ids = FileOf("object_id"),
            names = FileOf("cryptomatte.object");
        float[] byId = Make(Masked($$"""{ "source": "{{ids}}", "channel": "object_id.Y", "id": 1 }"""), 96, 54, 1001).Planes[0],
            byName = Make(Masked($$"""{ "source": "{{names}}", "channel": "CryptoObject", "named": "hull" }"""), 96, 54, 1001).Planes[0],
            inverted =
                Make(
                    Masked($$"""{ "source": "{{names}}", "channel": "CryptoObject", "named": "hull", "invert": true }"""),
                    96,
                    54,
                    1001
                ).Planes[0],
            whole = Make(Masked("null"), 96, 54, 1001).Planes[0];
        using ExrFile file = Disk.Exr(_folder[outputs.First(o => o.Passes.Any(p => p.Pass == "cryptomatte.object")).Name.At(1001)]);
        ExrImage ranks = ExrImage.Read(file, file.Parts[0], null, out _, default);
        float[] hull = CryptoMask
            .Of(
                new PassPixels(
                    "",
                    null,
                    file.Parts[0].DataWindow,
                    1,
                    [.. ranks.Planes.Select(p => (p.Key, p.Value)).OrderBy(p => p.Key)],
                    null
                ),
                "hull"
            )
            .Channels[0]
            .Plane;
        Assert.Contains(hull, h => h is > 0 and < 1);
        for (int i = 0; i < whole.Length; i++)
        {
            Assert.Equal(whole[i] * hull[i], byName[i], 1e-4f);
            Assert.Equal(whole[i] * (1 - hull[i]), inverted[i], 1e-4f);
            Assert.True(byId[i] == 0 || byId[i] == whole[i]);
        }

        Assert.Contains(byId, v => v > 0);
    }

    [Fact]
    public void Kept_strips_make_what_files_make()
    {
        Plan plan = StandInPlan.Create("KP010", FrameSet.Range(1001, 1001), 96, 54);
        Disk.Render(plan, _folder.Path, null, []);
        StackRecipe recipe = StackProposal.From(plan, _ => true);
        recipe = recipe with { Strips = [.. recipe.Strips.Select(s => s with { Opacity = 0.7, Gain = 0.5 })] };
        StoragePath folder = Disk.Folder(_folder.Path);
        StackedFrame ofFiles = new StackCompositor(recipe, folder, ReadLimits.Default) { Bands = 3 }.Make(1001, default);
        var kept = recipe.Strips.ToDictionary(
            StripPixels.KeyOf,
            s => StripPixels.Read(s, folder, 1001, recipe.Width, recipe.Height, 1, ReadLimits.Default, default)
        );
        StackedFrame ofKept = StackCompositor.OfKept(recipe, 1, s => kept[StripPixels.KeyOf(s)], ReadLimits.Default).Make(1001, default);
        for (int c = 0; c < 4; c++)
        {
            Assert.Equal(ofFiles.Planes[c], ofKept.Planes[c]);
        }

        StripPixels small = StripPixels.Read(recipe.Strips[0], folder, 1001, recipe.Width, recipe.Height, 4, ReadLimits.Default, default);
        Assert.Equal((24, 14), (small.Width, small.Height));
    }

    [Theory]
    [InlineData("""{ "kind": "glow", "radius": -1 }""", "radius goes from 0")]
    [InlineData("""{ "kind": "fog", "half": 0 }""", "half of the light is lost")]
    [InlineData("""{ "kind": "focus", "fStop": 0 }""", "are above 0")]
    [InlineData("""{ "kind": "focus", "focusDistance": 0.01 }""", "greater than the focal length")]
    [InlineData("""{ "kind": "blur" }""", "two channels, x and y")]
    [InlineData("""{ "kind": "relight", "colour": [1] }""", "three numbers")]
    public void Looks_that_cannot_be_say_why(string look, string said) =>
        Assert.Contains(
            said,
            Assert
                .Throws<FormatException>(() =>
                    Recipe($$"""{ "name": "x", "source": "x.exr", "channels": ["Y"], "look": {{look}} }""", 4, 4)
                )
                .Message
        );

    public void Dispose() => _folder.Dispose();
}

using System.IO.Compression;
using System.Net;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Imaging.Stacking.Looks;
using DuneCrate.Store;

namespace DuneCrate.Web.Tests;

/// <summary>The pages of Stack: sums that are tried, test composites with their strips, what fewer bits leave.</summary>
public sealed class StackPagesTests(AppFixture app) : IClassFixture<AppFixture>
{
    private async Task<List<KeptStack>> StacksAsync(string code) =>
        await app.Service<StackStore>().StacksAsync((await app.Service<ShowStore>().ShotAsync("KELP", code))!.Id);

    private async Task<KeptStack> StackAsync(string code) => Assert.Single(await StacksAsync(code));

    private async Task<string> ActAsync(string code, string handler, params (string, string)[] fields)
    {
        KeptStack? stack = (await StacksAsync(code)).FirstOrDefault();
        (string text, _) = await app.PostAsync(
            $"/KELP/{code}/stack/composite?frame=1002&stack={stack?.Id}",
            $"&handler={handler}",
            [("revision", $"{stack?.Revision}"), .. fields]
        );
        return text;
    }

    [Fact]
    public async Task A_stack_is_proposed_changed_undone_and_seen()
    {
        await app.AddShotAsync("ST010");
        await app.CheckAsync("ST010");
        Assert.Contains("No test composite yet", await app.GetAsync("/KELP/ST010/stack/composite"));
        Assert.Contains("sub beauty", await ActAsync("ST010", "New", ("copy", "false")));
        KeptStack stack = await StackAsync("ST010");
        int beauty = Array.FindIndex(stack.Recipe.Strips, s => s.Name == "sub beauty");

        byte[] whole = await PictureAsync(stack, "");
        Assert.NotEqual(whole, await PictureAsync(stack, $"&strip={beauty}&opacity=0.3"));
        Assert.NotEqual(whole, await PictureAsync(stack, $"&strip={beauty}&what=strip"));
        Assert.Equal(stack.Revision, (await StackAsync("ST010")).Revision); // What is tried is not kept.

        await ActAsync("ST010", "Set", ("strip", $"{beauty}"), ("opacity", "30"), ("gain", "1"), ("operation", "Plus"), ("mask", ""));
        StackStrip changed = (await StackAsync("ST010")).Recipe.Strips[beauty];
        Assert.Equal((0.3, 1.0, StackOperation.Plus), (changed.Opacity, changed.Gain, changed.Operation));
        await ActAsync("ST010", "Move", ("from", $"{beauty}"), ("to", "0"));
        Assert.Equal("sub beauty", (await StackAsync("ST010")).Recipe.Strips[0].Name);
        await ActAsync("ST010", "Step", ("undo", "true"));
        await ActAsync("ST010", "Step", ("undo", "true"));
        KeptStack undone = await StackAsync("ST010");
        Assert.Equal(stack.Recipe.Write(), undone.Recipe.Write());
        Assert.Equal(2, undone.Redoes);
        await ActAsync("ST010", "Step", ("undo", "false"));
        Assert.Equal(0.3, (await StackAsync("ST010")).Recipe.Strips[beauty].Opacity);

        // Somebody who saw an older one changes nothing.
        (string late, _) = await app.PostAsync(
            $"/KELP/ST010/stack/composite?stack={stack.Id}",
            "&handler=Remove",
            ("revision", "1"),
            ("at", "0")
        );
        Assert.Contains("Somebody else has changed the stack", late);
    }

    private async Task<byte[]> PictureAsync(KeptStack stack, string more) =>
        await app.Client.GetByteArrayAsync($"/KELP/ST010/stack/picture.png?stack={stack.Id}&frame=1002&width=480{more}");

    [Fact]
    public async Task Looks_masks_and_plates_are_laid_in()
    {
        await app.AddShotAsync("ST020");
        await app.CheckAsync("ST020");
        string plates = Directory.CreateDirectory(Path.Combine(app.Renders, "plates")).FullName;
        foreach (int frame in new[] { 1002, 1003 })
        {
            Tool.Oiio(
                "--pattern",
                "constant:color=0.2,0.3,0.4",
                "64x36",
                "3",
                "--attrib:type=rational",
                "framesPerSecond",
                "24000/1001",
                "-d",
                "half",
                "-o",
                Path.Combine(plates, $"water.{frame}.exr")
            );
        }

        await ActAsync("ST020", "New", ("copy", "false"));
        await ActAsync("ST020", "Add", ("source", "sub|emission|Glow"));
        await ActAsync("ST020", "Add", ("source", "sub|depth|Focus"));
        await ActAsync("ST020", "Add", ("source", "sub|motion|Blur"));
        StackRecipe recipe = (await StackAsync("ST020")).Recipe;
        Assert.Equal([LookKind.Glow, LookKind.Focus, LookKind.Blur], recipe.Strips.Select(s => s.Look?.Kind).OfType<LookKind>().Order());
        int glow = Array.FindIndex(recipe.Strips, s => s.Look?.Kind == LookKind.Glow),
            focus = Array.FindIndex(recipe.Strips, s => s.Look?.Kind == LookKind.Focus);
        await ActAsync("ST020", "Set", ("strip", $"{focus}"), ("fStop", "1.4"), ("focusDistance", "6"), ("mask", ""));
        KeptStack focused = await StackAsync("ST020");
        Assert.Equal(1.4, focused.Recipe.Strips[focus].Look!.FStop);
        string picture = $"/KELP/ST020/stack/picture.png?stack={focused.Id}&frame=1002&strip={focus}";
        Assert.NotEqual(
            await app.Client.GetByteArrayAsync(picture),
            await app.Client.GetByteArrayAsync(picture + "&what=circles") // Laid over the picture.
        );
        Assert.Contains(
            "focus distance must be greater",
            await ActAsync("ST020", "Set", ("strip", $"{focus}"), ("focusDistance", "0"), ("mask", ""))
        );

        await ActAsync("ST020", "Set", ("strip", $"{glow}"), ("mask", "sub|cryptomatte.object|named|lamps"), ("invert", "true"));
        StackMask mask = (await StackAsync("ST020")).Recipe.Strips[glow].Mask!;
        Assert.Equal(("CryptoObject", "lamps", true), (mask.Channel, mask.Named, mask.Invert));

        string root = Path.GetFileName(app.Renders);
        string found = await app.GetAsync($"/KELP/ST020/stack/composite?handler=Plates&root={root}&folder=plates");
        Assert.Contains("water.####.exr (1002-1003)", found);
        await ActAsync("ST020", "Add", ("plate", $"{root}|plates/water.####.exr"));
        string told = await app.GetAsync("/KELP/ST020/stack/composite?handler=Advice&frame=1002");
        Assert.Contains("one frame is lost in every 1,001", told);
        Assert.Contains("it has no frame for 1001,1004", told);
        StackStrip plate = Assert.Single((await StackAsync("ST020")).Recipe.Strips, s => s.Root is not null);
        Assert.Equal("24000/1001", plate.FrameRate.ToString());
        Assert.Contains("no such file", await ActAsync("ST020", "Add", ("plate", $"{root}|plates/air.####.exr")));
    }

    [Fact]
    public async Task A_composite_is_written_taken_away_and_goes_into_the_crate()
    {
        await app.AddShotAsync("ST030");
        await app.CheckAsync("ST030");
        await ActAsync("ST030", "New", ("copy", "false"));
        KeptStack stack = await StackAsync("ST030");
        string page = $"/KELP/ST030/stack/composite?frame=1001&stack={stack.Id}";
        await app.PostAsync(page, "&handler=Write", ("png", "false"));
        await app.UntilAsync(page + "&handler=Written", text => text.Contains("composite_v001"));
        using var zip = new ZipArchive(await app.Client.GetStreamAsync("/KELP/ST030/stack/written.zip?name=composite_v001"));
        Assert.Equal(
            ["ST030_composite.1001.exr", "ST030_composite.1002.exr", "ST030_composite.1003.exr", "ST030_composite.1004.exr", "stack.json"],
            zip.Entries.Select(e => e.Name)
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await app.Client.GetAsync("/KELP/ST030/stack/written.zip?name=../../../dune-crate.db")).StatusCode
        );
        await app.PostAsync(page, "&handler=Discard", ("name", "composite_v001"));
        Assert.DoesNotContain("composite_v001", await app.GetAsync(page + "&handler=Written"));
        byte[] raster = await app.Client.GetByteArrayAsync($"/KELP/ST030/stack/frame.ora?stack={stack.Id}&frame=1001");
        using (var ora = new ZipArchive(new MemoryStream(raster)))
        {
            Assert.Equal("mimetype", ora.Entries[0].Name);
        }

        await app.PostAsync("/KELP/ST030/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
        await app.UntilAsync("/KELP/ST030/crate", text => text.Contains("Whole, read back"));
        string crate = Path.Combine(app.Crates, "KELP", "ST030", "ST030_crate_v001");
        StackRecipe sealedStack = StackRecipe.Read(File.ReadAllText(Path.Combine(crate, "stack.json")));
        Assert.Equal(stack.Recipe.Strips.Length, sealedStack.Strips.Length);
        Assert.All(sealedStack.Strips, s => Assert.True(File.Exists(Path.Combine(crate, s.Source.Replace("####", "1001")))));
    }

    [Fact]
    public async Task Terms_are_taken_out_and_raised_without_touching_the_plan()
    {
        await app.AddShotAsync("ST040", "unlit:sub:1003");
        await app.CheckAsync("ST040");
        string planned = await app.GetAsync("/KELP/ST040/stack?layer=sub&frame=1001");
        Assert.Contains("The light passes sum to the beauty.", planned);
        Assert.Contains("It begins at", planned);
        string raised = await app.GetAsync("/KELP/ST040/stack?layer=sub&frame=1001&gains=0,0,0,0,0,-1");
        Assert.Contains("Emission is in at 0.5 of its light", raised, StringComparison.OrdinalIgnoreCase);
        Assert.Contains("× 2", raised);
        string less = await app.GetAsync("/KELP/ST040/stack?layer=sub&frame=1001&sum=direct_diffuse%2Bspecular");
        Assert.Contains("do not sum to the beauty", less);
        Assert.Contains("has no pass velvet", await app.GetAsync("/KELP/ST040/stack?layer=sub&frame=1001&sum=velvet%2Bspecular"));
        Assert.Contains("is black and its light is in the beauty", await app.GetAsync("/KELP/ST040/stack?layer=sub&frame=1003"));
        string along = await app.GetAsync("/KELP/ST040/stack?handler=Range&layer=sub&gains=0,0,0,0,0,-1");
        Assert.Equal(4, along.Split("class=\"bad\"").Length - 1);
        foreach (string what in new[] { "sum", "whole", "residual", "left" })
        {
            Assert.NotEmpty(await app.Client.GetByteArrayAsync($"/KELP/ST040/rebuild.png?layer=sub&frame=1001&what={what}&gains=off"));
        }
    }

    [Fact]
    public async Task Fewer_bits_are_shown_for_colour_alone()
    {
        await app.AddShotAsync("ST050");
        await app.CheckAsync("ST050");
        string page = await app.GetAsync("/KELP/ST050/stack/bits?layer=sub&pass=beauty&frame=1001&exposure=2");
        Assert.Contains("at +2 stops 8-bit leaves", page);
        Assert.Contains("is no colour", await app.GetAsync("/KELP/ST050/stack/bits?layer=sub&pass=depth&frame=1001"));
        Assert.NotEmpty(
            await app.Client.GetByteArrayAsync("/KELP/ST050/stack/bits.png?layer=sub&pass=beauty&frame=1001&stored=EightBit&what=bands")
        );
    }
}

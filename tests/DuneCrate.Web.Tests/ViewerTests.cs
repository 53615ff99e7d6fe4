using System.Net;
using System.Text.Json.Nodes;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Pictures;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using NetVips;

namespace DuneCrate.Web.Tests;

/// <summary>What the viewer asks for over HTTP: the same pixels as the command line makes, with validators.</summary>
public sealed class ViewerTests(AppFixture app) : IClassFixture<AppFixture>
{
    private const string Beauty = "layer=sub&pass=beauty&frame=1001";

    /// <summary>A shot with one layer.</summary>
    private async Task<string> MakeAsync(string code, int width = 300, int height = 280, string frames = "1001-1002")
    {
        Plan plan = StandInPlan.Create(code, FrameSet.Parse(frames), width, height);
        plan = plan with { Layers = [plan.Layers[0]] };
        await app.PostAsync("/KELP/new-shot", "?handler=Import", ("Json", PlanDocument.Write(plan)));
        Disk.Render(plan, Path.Combine(app.Renders, code), null, []);
        await app.CheckAsync(code);
        return $"/KELP/{code}/";
    }

    [Fact]
    public async Task Tiles_are_the_picture_that_the_command_line_makes()
    {
        string at = await MakeAsync("VW010", 600, 560, "1001"); // Two by two tiles.
        string file = Path.Combine(app.Renders, "VW010", "sub", "VW010_sub.1001.exr");
        IntakeFile listed = Disk.Listed(file);
        FileFacts facts = FactsReader.Read(listed, new FactsRequest(FactsDepth.Header), ReadLimits.Default, default);
        PassPixels pixels = PassChoice
            .Find(facts, PassCatalogue.Shipped, null, [], null)
            .Read(listed, PassCatalogue.Shipped, ReadLimits.Default, default);
        byte[] whole = PictureMaker
            .Render(
                pixels,
                new PictureSettings
                {
                    Exposure = 0.5,
                    View = PictureView.Log,
                    Ground = PictureGround.Checker,
                }
            )
            .Rgb;
        foreach ((int column, int row) in new[] { (0, 0), (1, 0), (0, 1), (1, 1) })
        {
            byte[] png = await app.Client.GetByteArrayAsync(
                $"{at}tile.png?{Beauty}&level=0&column={column}&row={row}&exposure=0.5&view=log&ground=checker"
            );
            using Image tile = Image.NewFromBuffer(png);
            byte[] rgb = tile.WriteToMemory<byte>();
            for (int y = 0; y < tile.Height; y++)
            {
                Assert.Equal(
                    whole.AsSpan(3 * ((row * 512 + y) * 600 + column * 512), 3 * tile.Width).ToArray(),
                    rgb.AsSpan(3 * y * tile.Width, 3 * tile.Width).ToArray()
                );
            }
        }

        using HttpResponseMessage beyond = await app.Client.GetAsync($"{at}tile.png?{Beauty}&level=0&column=2&row=0");
        Assert.Equal(HttpStatusCode.NotFound, beyond.StatusCode);
        using Image small = Image.NewFromBuffer(await app.Client.GetByteArrayAsync($"{at}tile.png?{Beauty}&level=1&column=0&row=0"));
        Assert.Equal((300, 280), (small.Width, small.Height));
    }

    /// <summary>RFC 9110, 8.8.3: the tag stays while the tile does, and is another when the file or the question is.</summary>
    [Fact]
    public async Task Tiles_have_strong_validators()
    {
        string at = await MakeAsync("VW020"),
            tile = $"{at}tile.png?{Beauty}&level=0&column=0&row=0";
        async Task<(HttpStatusCode Status, string Tag)> AskAsync(string address, string? known = null)
        {
            using var request = new HttpRequestMessage(HttpMethod.Get, address);
            if (known is not null)
            {
                request.Headers.TryAddWithoutValidation("If-None-Match", known);
            }

            using HttpResponseMessage answer = await app.Client.SendAsync(request);
            return (answer.StatusCode, answer.Headers.ETag!.Tag);
        }

        (HttpStatusCode status, string tag) = await AskAsync(tile);
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal((HttpStatusCode.NotModified, tag), await AskAsync(tile, tag));
        Assert.NotEqual(tag, (await AskAsync($"{tile}&exposure=1", tag)).Tag);
        string apart = $"{tile}&minus={Uri.EscapeDataString("sub|beauty|1002")}";
        (_, string difference) = await AskAsync(apart);
        File.SetLastWriteTimeUtc(Path.Combine(app.Renders, "VW020", "sub", "VW020_sub.1002.exr"), DateTime.UtcNow.AddMinutes(-3));
        Assert.Equal(HttpStatusCode.OK, (await AskAsync(apart, difference)).Status);
        File.SetLastWriteTimeUtc(Path.Combine(app.Renders, "VW020", "sub", "VW020_sub.1001.exr"), DateTime.UtcNow.AddMinutes(-3));
        Assert.Equal(HttpStatusCode.OK, (await AskAsync(tile, tag)).Status);
    }

    [Fact]
    public async Task Samples_boxes_and_terms_are_those_of_the_file()
    {
        string at = await MakeAsync("VW030");
        JsonNode probe = JsonNode.Parse(await app.GetAsync($"{at}probe?{Beauty}&x=150&y=140"))!,
            samples = JsonNode.Parse(await app.GetAsync($"{at}samples?{Beauty}&x=150&y=140&width=1&height=1"))!,
            box = JsonNode.Parse(await app.GetAsync($"{at}box?{Beauty}&x=150&y=140&width=1&height=1"))!;
        double red = double.Parse((string)probe[0]!["samples"]![0]!["value"]!, System.Globalization.CultureInfo.InvariantCulture);
        Assert.Equal(
            red,
            double.Parse((string)samples["channels"]![0]!["values"]![0]!, System.Globalization.CultureInfo.InvariantCulture),
            2
        );
        JsonNode first = box["channels"]![0]!;
        Assert.Equal(("R", "0"), ((string)first["name"]!, (string)first["deviation"]!));
        Assert.Equal((string)first["min"]!, (string)first["max"]!);
        Assert.Equal(red, double.Parse((string)first["mean"]!, System.Globalization.CultureInfo.InvariantCulture), 3);

        JsonArray terms = JsonNode.Parse(await app.GetAsync($"{at}terms?{Beauty}&x=150&y=140"))!.AsArray();
        Assert.Contains("direct_diffuse", terms.Select(t => (string)t!["term"]!));
        Assert.Equal(1, terms.Sum(t => (double)t!["share"]!), 2);

        JsonArray curve = JsonNode.Parse(await app.GetAsync($"{at}curve?{Beauty}&x=150&y=140"))!.AsArray();
        Assert.Equal([1001, 1002], curve.Select(c => (int)c!["frame"]!));
        double[] rgb =
        [
            .. probe[0]!["samples"]!
                .AsArray()
                .Take(3)
                .Select(s => double.Parse((string)s!["value"]!, System.Globalization.CultureInfo.InvariantCulture)),
        ];
        Assert.Equal(rgb.Average(), (double)curve[0]!["value"]!, 4);
        File.Delete(Path.Combine(app.Renders, "VW030", "sub", "VW030_sub.1002.exr"));
        Assert.Null(JsonNode.Parse(await app.GetAsync($"{at}curve?{Beauty}&x=150&y=140"))![1]!["value"]);

        JsonNode seen = JsonNode.Parse(await app.GetAsync($"{at}seen?layer=sub&pass=depth&frame=1001"))!;
        Assert.True((double)seen["far"]! > (double)seen["near"]!);
        // Motion is shown as direction and length: a near would make a ramp of it.
        JsonNode motion = JsonNode.Parse(await app.GetAsync($"{at}seen?layer=sub&pass=motion&frame=1001"))!;
        Assert.Null(motion["near"]);
        Assert.True((double)motion["far"]! > 0);
        Assert.Equal([0, 0, 299, 279], seen["data"]!.AsArray().Select(v => (int)v!));
        Assert.Contains("normal", seen["choices"]!.AsArray().Select(c => (string)c!["name"]!));
    }

    /// <summary>A difference is |a − b| · gain, shown as light; other windows are refused with a sentence.</summary>
    [Fact]
    public async Task A_difference_is_that_of_the_samples()
    {
        string at = await MakeAsync("VW040"),
            minus = Uri.EscapeDataString("sub|beauty|1002");
        JsonNode a = JsonNode.Parse(await app.GetAsync($"{at}samples?{Beauty}&x=140&y=120&width=30&height=30"))!,
            b = JsonNode.Parse(await app.GetAsync($"{at}samples?layer=sub&pass=beauty&frame=1002&x=140&y=120&width=30&height=30"))!;
        double[] Red(JsonNode of) =>
            [
                .. of["channels"]![0]!["values"]!
                    .AsArray()
                    .Select(v => double.Parse((string)v!, System.Globalization.CultureInfo.InvariantCulture)),
            ];
        using Image tile = Image.NewFromBuffer(
            await app.Client.GetByteArrayAsync($"{at}tile.png?{Beauty}&level=0&column=0&row=0&view=plain&minus={minus}&gain=2")
        );
        double[] off = [.. Red(a).Zip(Red(b), (x, y) => Math.Abs(x - y))];
        Assert.Contains(off, o => o > 0.01);
        for (int i = 0; i < off.Length; i++)
        {
            double shown = tile.Getpoint(140 + i % 30, 120 + i / 30)[0];
            Assert.InRange(shown, Math.Min(255, 510 * off[i]) - 6, Math.Min(255, 510 * off[i]) + 6); // Three digits are told.
        }

        JsonNode apart = JsonNode.Parse(await app.GetAsync($"{at}apart?{Beauty}&minus={minus}"))!;
        Assert.False((bool)apart["equal"]!);
        Assert.Contains("R", apart["channels"]!.AsArray().Where(c => (double)c!["off"]! > 0).Select(c => (string)c!["name"]!));
        string same = Uri.EscapeDataString("sub|beauty|1001");
        Assert.True((bool)JsonNode.Parse(await app.GetAsync($"{at}apart?{Beauty}&minus={same}"))!["equal"]!);

        using HttpResponseMessage refused = await app.Client.GetAsync($"{at}tile.png?{Beauty}&level=0&column=0&row=0&minus=nope");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("is not there", await refused.Content.ReadAsStringAsync());
    }
}

using System.Text.Json.Nodes;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Views;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store.Keeping;

namespace DuneCrate.Web.Tests;

/// <summary>Proxies are made behind a check, kept within a bound, and show what was rendered before.</summary>
public sealed class ProxyTests(AppFixture app) : IClassFixture<AppFixture>
{
    private async Task<JsonNode> JsonAsync(string path) => JsonNode.Parse(await app.GetAsync(path))!;

    /// <summary>Waits until something was made in the background, at most half a minute.</summary>
    private static async Task UntilAsync(Func<bool> isThere)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromMilliseconds(20));
        for (int i = 0; i < 1500 && !isThere(); i++)
        {
            await timer.WaitForNextTickAsync();
        }

        Assert.True(isThere());
    }

    private static string Samples(JsonNode told) => string.Join(' ', told["channels"]![0]!["values"]!.AsArray().Select(v => (string)v!));

    [Fact]
    public async Task The_picture_at_an_earlier_check_is_still_there()
    {
        Plan plan = await app.AddShotAsync("PX010", "copy:sub:1002");
        ProxyStore proxies = app.Service<ProxyStore>();
        await app.CheckAsync("PX010");
        ShotView view = (await app.Service<ShotViews>().PictureViewAsync("KELP", "PX010", default))!;
        SeenFile seen = (await app.Service<PictureService>().FindAsync(view, new PictureAddress("sub", "beauty", 1002), default))!;
        await UntilAsync(() => !proxies.Lacks(seen));
        Assert.InRange(proxies.Bytes, 1, 4L << 30);

        const string at = "layer=sub&pass=beauty&frame=1002";
        string before = Samples(await JsonAsync($"/KELP/PX010/samples?{at}&x=10&y=8&width=40&height=20")),
            check = (string)(await JsonAsync("/KELP/PX010/sources"))[0]!["key"]!;
        Assert.StartsWith("check/", check);
        Disk.Render(plan, Path.Combine(app.Renders, "PX010"), plan.Shot.Frames, []);
        File.SetLastWriteTimeUtc(Path.Combine(app.Renders, "PX010", "sub", "PX010_sub.1002.exr"), DateTime.UtcNow.AddSeconds(5));
        string now = Samples(await JsonAsync($"/KELP/PX010/samples?{at}&x=10&y=8&width=40&height=20")),
            then = Samples(await JsonAsync($"/KELP/PX010/samples?{at}&x=10&y=8&width=40&height=20&from={Uri.EscapeDataString(check)}"));
        Assert.NotEqual(before, now);
        Assert.Equal(before, then);

        // Its numbers over the whole file are not to be had any more, and it says so.
        string minus = Uri.EscapeDataString($"sub|beauty|1002|{check}");
        using HttpResponseMessage apart = await app.Client.GetAsync($"/KELP/PX010/apart?{at}&minus={minus}");
        Assert.Contains("only a small picture is kept", await apart.Content.ReadAsStringAsync());
        JsonNode ranked = await JsonAsync($"/KELP/PX010/ranked?{at}&minus={minus}");
        Assert.Equal(1002, (int)ranked["frames"]![0]!["frame"]!);
        Assert.False((bool)ranked["frames"]![0]!["isEqual"]!);
    }

    /// <summary>A proxy that was just made is the one that is read later: equal frames stay equal, however they were come by.</summary>
    [Fact]
    public async Task Equal_frames_are_equal_whether_their_proxies_are_kept_or_made()
    {
        Plan plan = StandInPlan.Create("PX030", FrameSet.Parse("1001"), 1930, 12);
        plan = plan with { Layers = [plan.Layers[0]] };
        await app.PostAsync("/KELP/new-shot", "?handler=Import", ("Json", PlanDocument.Write(plan)));
        foreach (string folder in (string[])["PX030", "PX030_v001"])
        {
            Disk.Render(plan, Path.Combine(app.Renders, folder), null, []);
        }

        await app.CheckAsync("PX030");
        string minus = Uri.EscapeDataString("sub|beauty|1001|folder/PX030_v001");
        foreach (string _ in (string[])["made", "kept"])
        {
            JsonNode ranked = await JsonAsync($"/KELP/PX030/ranked?layer=sub&pass=beauty&frame=1001&minus={minus}");
            Assert.True((bool)Assert.Single(ranked["frames"]!.AsArray())!["isEqual"]!);
        }

        // One from the disk, one made now.
        File.SetLastWriteTimeUtc(Path.Combine(app.Renders, "PX030_v001", "sub", "PX030_sub.1001.exr"), DateTime.UtcNow);
        JsonNode mixed = await JsonAsync($"/KELP/PX030/ranked?layer=sub&pass=beauty&frame=1001&minus={minus}");
        Assert.True((bool)Assert.Single(mixed["frames"]!.AsArray())!["isEqual"]!);
    }

    [Fact]
    public async Task The_probe_names_objects_and_mattes_and_gives_units()
    {
        Plan plan = await app.AddShotAsync("PX020");
        await app.CheckAsync("PX020");
        string layer = plan
            .Layers.First(l => l.Outputs.Any(o => o.Passes.Any(p => p.Pass.StartsWith("cryptomatte", StringComparison.Ordinal))))
            .Name;
        var names = new HashSet<string>();
        foreach ((int x, int y) in from x in Enumerable.Range(0, 8) from y in Enumerable.Range(0, 5) select (x * 8, y * 7))
        {
            foreach (JsonNode? pass in (await JsonAsync($"/KELP/PX020/probe?layer={layer}&pass=beauty&frame=1001&x={x}&y={y}")).AsArray())
            {
                if ((string?)pass!["name"] is { } name)
                {
                    names.Add($"{pass["pass"]}: {name.Split(' ')[0]}");
                }

                if ((string)pass["pass"]! == "depth")
                {
                    Assert.Equal("scene units", (string)pass["unit"]!);
                }
            }
        }

        Assert.Contains("cryptomatte.object: hull", names); // Names of the renderer's own, from the manifest in the header.
    }

    [Theory]
    [InlineData(0, 0)]
    [InlineData(3_000_000, 3_000_000)]
    public void Proxies_stay_within_their_bound(long most, long expected)
    {
        string folder = Directory.CreateTempSubdirectory("dune-proxies-").FullName;
        using DataFolder data = DataFolder.Take(folder);
        var store = new ProxyStore(
            data,
            Microsoft.Extensions.Options.Options.Create(new LookSettings { ProxyBytes = most }),
            TimeProvider.System,
            Microsoft.Extensions.Logging.Abstractions.NullLogger<ProxyStore>.Instance
        );
        for (int i = 0; i < 40; i++)
        {
            store.Keep(Seen(i), Noise(i));
            Assert.InRange(
                Directory.GetFiles(folder, "*.planes", SearchOption.AllDirectories).Sum(f => new FileInfo(f).Length),
                0,
                expected
            );
        }

        Assert.False(store.Lacks(Seen(39)));
        Assert.Equal(most > 0, store.Lacks(Seen(0)));
        Assert.InRange(store.Bytes, 0, expected);
        Directory.Delete(Path.Combine(folder, "proxies"), recursive: true);
    }

    private static SeenFile Seen(int i) =>
        new(
            Disk.Folder(Path.GetTempPath()).At($"f{i}.exr"),
            new Foundation.Storage.FileStamp(Foundation.Storage.FileKind.Regular, i, i, i, i, 1),
            "beauty",
            null,
            ["R"],
            null,
            null,
            null,
            null,
            false
        );

    private static Imaging.PicturePlanes Noise(int seed)
    {
        var chance = new Random(seed);
        float[] plane = [.. Enumerable.Range(0, 100 * 1000).Select(_ => chance.NextSingle())];
        return new Imaging.PicturePlanes(
            System.Collections.Immutable.ImmutableDictionary<string, float[]>.Empty.Add("R", plane),
            new PixelBox(0, 0, 999, 99),
            1,
            false,
            null
        );
    }
}

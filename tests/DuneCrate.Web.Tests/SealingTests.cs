using DuneCrate.Planning.Model;

namespace DuneCrate.Web.Tests;

/// <summary>What pages show of a sealing that fails.</summary>
public sealed class SealingTests(AppFixture app) : IClassFixture<AppFixture>
{
    /// <summary>What a sealing finds is what the Check station shows: a file that broke since the check is named there.</summary>
    [Fact]
    public async Task Findings_of_a_failed_sealing_are_the_ones_shown()
    {
        await app.AddShotAsync("SF010");
        await app.CheckAsync("SF010");
        Assert.Contains("No findings", await app.GetAsync("/KELP/SF010/check"));
        string file = Directory.GetFiles(Path.Combine(app.Renders, "SF010"), "*.1002.exr", SearchOption.AllDirectories)[0];
        File.WriteAllBytes(file, File.ReadAllBytes(file)[..^900]);
        await app.PostAsync("/KELP/SF010/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
        Assert.Contains("files.truncated", await app.UntilAsync("/KELP/SF010/crate", text => text.Contains("files.truncated")));
        string check = await app.GetAsync("/KELP/SF010/check");
        Assert.Contains("1 blocker", check);
        Assert.DoesNotContain("No findings", check);
    }

    /// <summary>Nothing of a shot without layers goes into a crate, and its files are not said to be read again for ever.</summary>
    [Fact]
    public async Task A_shot_without_layers_is_said_to_hold_nothing_to_crate()
    {
        Plan plan = await app.AddShotAsync("SF020");
        await app.PostAsync(
            "/KELP/new-shot",
            "?handler=Import",
            ("Json", PlanDocument.Write(plan with { Shot = plan.Shot with { Code = "SF021" }, Layers = [] }))
        );
        Directory.Move(Path.Combine(app.Renders, "SF020"), Path.Combine(app.Renders, "SF021"));
        await app.CheckAsync("SF021");
        string page = await app.GetAsync("/KELP/SF021/crate");
        Assert.Contains("SF021", page);
        Assert.DoesNotContain("Reading the check", page);
    }
}

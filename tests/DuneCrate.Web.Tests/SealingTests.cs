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
}

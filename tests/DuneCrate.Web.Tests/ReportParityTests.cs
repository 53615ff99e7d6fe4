using System.Text.Json.Nodes;
using DuneCrate.Checking.Reports;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Web.Tests;

/// <summary>The command line finds what the pages find, and says it in the same documents; runs over the same shot are compared.</summary>
public class ReportParityTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Theory]
    [InlineData("RP110", "true", "pixels")]
    [InlineData("RP120", "false", "header")]
    [InlineData("RP130", "true", "pixels", "missing:sub:1002", "nonfinite:kelp:1003", "truncated:seabed:1001")]
    [InlineData("RP140", "true", "pixels", "black:sub:1002-1003", "8-bit:kelp:1001-1004", "wrong-camera:seabed:1004", "unlit:sub:1001")]
    [InlineData(
        "RP150",
        "false",
        "header",
        "renamed:sub:1003",
        "repadded:kelp:1004",
        "empty:seabed:1002",
        "wrong-rate:kelp:1001-1004",
        "dropped-channel:sub:1001-1004"
    )]
    [InlineData("RP160", "true", "pixels", "copy:sub:1003", "half-depth:seabed:1001-1004", "wrong-size:kelp:1002")]
    public async Task Page_and_command_line_report_the_same(string code, string pixels, string depth, params string[] faults)
    {
        await app.AddShotAsync(code, faults);
        await app.CheckAsync(code, pixels);
        JsonNode page = Comparable(await app.Client.GetStringAsync($"/KELP/{code}/check?handler=Report"));
        using var plan = new TemporaryFile(await app.Client.GetStringAsync($"/KELP/{code}/plan?handler=Export"));
        using var rerun = new TemporaryFile("", ".csv");
        (int exit, string output, string error) = CommandLine.Dune(
            "check",
            Path.Combine(app.Renders, code),
            "--plan",
            plan.Path,
            "--depth",
            depth,
            "--json",
            "-",
            "--rerun",
            rerun.Path
        );
        Assert.True(exit is 0 or 1, error);
        JsonNode report = Comparable(output);
        Assert.True(JsonNode.DeepEquals(page, report), $"{page}\n{report}");
        Assert.Equal(exit == 1, (int)report["summary"]!["blockers"]! > 0);
        Assert.Equal(await app.Client.GetStringAsync($"/KELP/{code}/check?handler=Rerun"), await File.ReadAllTextAsync(rerun.Path));
        Assert.Equal(faults.Length > 0, report["findings"]!.AsArray().Any(f => (string?)f!["severity"] != "note"));
    }

    [Fact]
    public async Task A_run_is_compared_with_any_earlier_one()
    {
        Plan plan = await app.AddShotAsync("RP170", "missing:kelp:1003", "nonfinite:sub:1002");
        await app.CheckAsync("RP170");
        int first = await ReportIdAsync();
        Render("1003");
        await app.CheckAsync("RP170");
        Render("1002", "black:sub:1002");
        await app.CheckAsync("RP170");
        string withLast = await app.GetAsync("/KELP/RP170/check"),
            withFirst = await app.GetAsync($"/KELP/RP170/check?since={first}"),
            withNone = await app.GetAsync("/KELP/RP170/check?since=999999");
        Assert.Contains("1 fixed", withLast);
        Assert.Contains("2 fixed", withFirst);
        Assert.Contains($"""<option value="{first}" selected""", withFirst);
        Assert.Contains("1 fixed", withNone);
        Assert.All(new[] { withLast, withFirst }, page => Assert.Contains("0 still there", page));

        void Render(string frames, params string[] faults) =>
            Disk.Render(
                plan,
                Path.Combine(app.Renders, "RP170"),
                Foundation.Frames.FrameSet.Parse(frames),
                [.. faults.Select(f => Fault.TryParse(f, out Fault? fault, out _) ? fault : throw new FormatException(f))]
            );

        async Task<int> ReportIdAsync()
        {
            var store = app.Service<DuneCrate.Store.ShowStore>();
            return (await app.Service<DuneCrate.Store.CheckStore>().NewestCheckAsync((await store.ShotAsync("KELP", "RP170"))!.Id))!.Id;
        }
    }

    /// <summary>
    /// A report without what differs between two runs over the same files: where the folder is said to be, and how long it took.
    /// </summary>
    private static JsonNode Comparable(string json)
    {
        JsonNode report = JsonNode.Parse(json)!;
        Assert.Equal(CheckReport.SchemaName, (string?)report["schema"]);
        report.AsObject().Remove("root");
        report["summary"]!.AsObject().Remove("seconds");
        return report;
    }

    private sealed class TemporaryFile : IDisposable
    {
        public TemporaryFile(string text, string extension = ".json") =>
            File.WriteAllText(
                Path = System.IO.Path.Combine(System.IO.Path.GetTempPath(), System.IO.Path.GetRandomFileName() + extension),
                text
            );

        public string Path { get; }

        public void Dispose() => File.Delete(Path);
    }
}

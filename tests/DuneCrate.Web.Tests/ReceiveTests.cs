using System.Text.RegularExpressions;
using DuneCrate.Checking.Reports;

namespace DuneCrate.Web.Tests;

/// <summary>Receive over HTTP: the arrival board, the stand-in farm, frames that return and close findings, plans from files.</summary>
public sealed class ReceiveTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task What_has_landed_is_shown_with_its_first_frame()
    {
        await app.AddShotAsync("RC010", "wrong-camera:kelp:1001");
        await app.CheckAsync("RC010");
        // What was written a moment ago counts as being written, until it has held still.
        await app.UntilAsync(
            "/KELP/RC010/receive?handler=Arrivals",
            t => t.Contains("as planned") && t.Contains("cam_witness") && t.Contains("all here") && !t.Contains("still being written")
        );
    }

    [Fact]
    public async Task Frames_that_the_farm_renders_again_are_checked_by_themselves_and_close_their_findings()
    {
        await app.AddShotAsync("RC020", "nonfinite:sub:1002", "missing:kelp:1003");
        await app.CheckAsync("RC020");
        Assert.Contains("Not a number", await app.GetAsync("/KELP/RC020/check"));
        await app.PostAsync("/KELP/RC020/receive", "?handler=Rerun", ("chunk", "1"));
        await app.UntilAsync("/KELP/RC020/receive?handler=Farm", t => t.Contains("done"));
        string page = await app.UntilAsync("/KELP/RC020/check", t => t.Contains("0 still there") && t.Contains("fixed"));
        Assert.Contains("No findings", page);
        Assert.Contains("2 fixed", page);
    }

    [Fact]
    public async Task An_order_is_paused_goes_on_fails_and_the_next_one_is_cancelled()
    {
        await app.AddShotAsync("RC080");
        await app.CheckAsync("RC080");
        const string Farm = "/KELP/RC080/receive?handler=Farm";
        await app.PostAsync("/KELP/RC080/receive", "?handler=Send", ("frames", "1001-1004"), ("seconds", "2"));
        string job = Regex.Match(await app.UntilAsync(Farm, t => t.Contains("rendering")), """name="job" value="(\d+)""").Groups[1].Value;
        await TellAsync("pause");
        await app.UntilAsync(Farm, t => t.Contains("paused") && t.Contains("Go on"));
        await TellAsync("resume");
        await app.UntilAsync(Farm, t => t.Contains("rendering"));
        await TellAsync("fail");
        await app.UntilAsync(Farm, t => t.Contains("failed") && !t.Contains("Fail it"));
        await app.PostAsync("/KELP/RC080/receive", "?handler=Send", ("frames", "1001-1004"), ("seconds", "2"));
        job = Regex.Match(await app.UntilAsync(Farm, t => t.Contains("rendering")), """name="job" value="(\d+)""").Groups[1].Value;
        await TellAsync("cancel");
        await app.UntilAsync(Farm, t => t.Contains("cancelled") && !t.Contains("Fail it"));
        await TellAsync("dance");
        Assert.DoesNotContain("rendering", await app.GetAsync(Farm));

        Task TellAsync(string what) => app.PostAsync("/KELP/RC080/receive", "?handler=Job", ("job", job), ("what", what));
    }

    /// <summary>
    /// Frames that are copied in while a page is open: the page is told, counts them, and reads the first one of each layer.
    /// </summary>
    [Fact]
    public async Task Open_pages_hear_of_frames_that_land()
    {
        await app.AddShotAsync("RC090");
        string full = Path.Combine(app.Renders, "RC090"),
            growing = Directory.CreateDirectory(Path.Combine(app.Renders, "RC090_growing")).FullName;
        await app.PostAsync("/KELP/RC090/receive", "?handler=Take", ("root", "renders"), ("folder", "RC090_growing"), ("pixels", "false"));
        using HttpResponseMessage stream = await app.Client.GetAsync(
            "/KELP/RC090/events?arrivals",
            HttpCompletionOption.ResponseHeadersRead
        );
        using var reader = new StreamReader(await stream.Content.ReadAsStreamAsync());
        foreach (string file in Directory.GetFiles(full, "*.1002.exr", SearchOption.AllDirectories))
        {
            string to = Path.Combine(growing, Path.GetRelativePath(full, file));
            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            File.Copy(file, to);
            File.SetLastWriteTimeUtc(to, DateTime.UtcNow.AddMinutes(-5));
        }

        string? line;
        do
        {
            line = await reader.ReadLineAsync().WaitAsync(TimeSpan.FromSeconds(30));
        } while (line is not null && line != "event: arrival");
        Assert.NotNull(line);
        string text = await app.UntilAsync("/KELP/RC090/receive?handler=Arrivals", t => t.Contains("as planned"));
        Assert.DoesNotContain("all here", text);
    }

    [Fact]
    public async Task An_order_with_a_fault_that_is_none_says_so()
    {
        await app.AddShotAsync("RC030");
        await app.CheckAsync("RC030");
        Assert.Contains(
            "'melted' is not a kind of fault",
            (
                await app.PostAsync(
                    "/KELP/RC030/receive",
                    "?handler=Send",
                    ("frames", "1001"),
                    ("seconds", "0"),
                    ("faults", "melted:sub:1001")
                )
            ).Text
        );
        Assert.Contains(
            "No layer has such frames",
            (await app.PostAsync("/KELP/RC030/receive", "?handler=Send", ("frames", "5"), ("seconds", "0"))).Text
        );
    }

    [Fact]
    public async Task A_plan_is_made_from_the_files_and_can_be_taken_back()
    {
        Planning.Model.Plan plan = await app.AddShotAsync("RC040");
        await app.CheckAsync("RC040", pixels: "false");
        (_, Uri address) = await app.PostAsync("/KELP/RC040/receive", "?handler=Plan");
        Assert.Equal("/KELP/RC040/plan", address.AbsolutePath);
        Planning.Model.Plan made = await app.PlanAsync("RC040");
        Assert.Equal(plan.Shot.Frames, made.Shot.Frames);
        Assert.Contains(made.Layers, l => l.Name == "sub_data");
        await app.StepAsync("RC040", "undo");
        Assert.Equal(plan.Layers.Select(l => l.Name), (await app.PlanAsync("RC040")).Layers.Select(l => l.Name));
    }

    [Fact]
    public async Task Reports_are_saved_as_a_page_and_rerun_lists_in_portions()
    {
        await app.AddShotAsync("RC050", "black:sub:1001-1002");
        await app.CheckAsync("RC050");
        Assert.StartsWith("<!doctype html>", await app.GetAsync("/KELP/RC050/check?handler=Page"));
        Assert.Equal("sub 1001\nsub 1002\n", await app.GetAsync("/KELP/RC050/check?handler=Rerun&form=text&chunk=1"));
        Assert.Contains(RerunList.SchemaName, await app.GetAsync("/KELP/RC050/check?handler=Rerun&form=json"));
    }

    [Fact]
    public async Task Names_are_put_right_after_a_look_and_given_back()
    {
        await app.AddShotAsync("RC060", "renamed:sub:1002", "repadded:kelp:1003");
        await app.CheckAsync("RC060");
        string page = await app.GetAsync("/KELP/RC060/check");
        Assert.Contains("Rename 2 files", page);
        Assert.Contains("sub/RC060_sbu.1002.exr", page);
        await app.PostAsync("/KELP/RC060/check", "?handler=Rename");
        string right = await app.UntilAsync("/KELP/RC060/check", t => t.Contains("2 fixed"));
        Assert.Contains("No findings", right);
        Assert.True(File.Exists(Path.Combine(app.Renders, "RC060", "sub", "RC060_sub.1002.exr")));
        await app.RestartAsync();
        await app.PostAsync("/KELP/RC060/check", "?handler=Unrename");
        await app.UntilAsync("/KELP/RC060/check", t => t.Contains("Rename 2 files"));
        Assert.True(File.Exists(Path.Combine(app.Renders, "RC060", "sub", "RC060_sbu.1002.exr")));
    }

    [Fact]
    public async Task What_jumps_is_marked_along_the_frames()
    {
        await app.AddShotAsync("RC070");
        await app.CheckAsync("RC070");
        string page = await app.GetAsync("/KELP/RC070/check?layer=sub&pass=beauty&frame=1001");
        Assert.Contains("Over the frames", page);
        Assert.Contains("Mean along the frames", page);
    }
}

using System.Diagnostics;
using System.Text.Json;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Bench.Trial;

/// <summary>
/// Each folder in turn lies on a disk of its own that runs full: what cannot be done is said, nothing half done stays, and once there is
/// room it works again without a restart.
/// </summary>
internal static class FullDiskTrials
{
    /// <summary>The database's disk.</summary>
    public static Task<(int, IReadOnlyCollection<string>)> DataAsync(string work) =>
        OnAsync(
            work,
            "data",
            48,
            async (server, disk, wrong) =>
            {
                Fill(disk);
                (int status, string text) = await EditAsync(server);
                Expect(
                    wrong,
                    status != 200 && text.Contains("room", StringComparison.OrdinalIgnoreCase),
                    $"an edit on a full disk answers {status}: {text[..Math.Min(200, text.Length)]}"
                );
                (status, text) = await server.PostAsync("/KELP/KP010/receive", "?handler=Check", ("pixels", "true"));
                Expect(
                    wrong,
                    status is 200 or 503 or 507 && !text.Contains("   at ", StringComparison.Ordinal),
                    $"a check on a full disk answers {status}"
                );
                (status, _) = await server.GetAsync("/KELP/KP010/check");
                Expect(wrong, status == 200, $"a page on a full disk answers {status}");
                Free(disk);
                (status, text) = await EditAsync(server);
                Expect(wrong, status == 200, $"once there is room an edit answers {status}: {text[..Math.Min(200, text.Length)]}");
                await Task.Delay(TimeSpan.FromSeconds(6)); // What could not be noted is noted now.
                await server.CheckAsync("KP010");
                await using DuneCrateContext database = server.Database();
                var checks = await database.Checks.AsNoTracking().OrderBy(c => c.Id).ToListAsync();
                Expect(
                    wrong,
                    checks[^1].State == JobState.Done,
                    $"once there is room a check ends as {checks[^1].State}: {checks[^1].Problem}"
                );
                wrong.AddRange(
                    checks.Where(c => c.State is JobState.Queued or JobState.Running).Select(c => $"check {c.Id} is {c.State} for ever")
                );
                return 5;
            }
        );

    /// <summary>The crates' disk.</summary>
    public static Task<(int, IReadOnlyCollection<string>)> CratesAsync(string work) =>
        OnAsync(
            work,
            "crates",
            16,
            async (server, disk, wrong) =>
            {
                Fill(disk, leave: 200_000);
                await server.CheckAsync("KP010");
                await server.PostAsync("/KELP/KP010/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
                string page = await server.UntilAsync("/KELP/KP010/crate", IsOver);
                Expect(
                    wrong,
                    page.Contains("Make room", StringComparison.Ordinal),
                    $"a seal on a full disk does not say that there is no room: {TrialServer.Words(page.Split("Crates of this shot")[^1])}"
                );
                Expect(
                    wrong,
                    Directory.GetFiles(disk, "*", SearchOption.AllDirectories).All(f => f.EndsWith("filler", StringComparison.Ordinal)),
                    "a seal on a full disk left files"
                );
                Free(disk);
                await server.PostAsync("/KELP/KP010/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
                page = await server.UntilAsync("/KELP/KP010/crate", IsOver);
                Expect(
                    wrong,
                    page.Contains("Whole, read back", StringComparison.Ordinal),
                    $"once there is room a seal is not whole: {TrialServer.Words(page.Split("Crates of this shot")[^1])}"
                );
                return 3;
            }
        );

    /// <summary>The disk of temporary files, which large forms go through.</summary>
    public static Task<(int, IReadOnlyCollection<string>)> TemporaryAsync(string work) =>
        OnAsync(
            work,
            "tmp",
            8,
            async (server, disk, wrong) =>
            {
                Fill(disk);
                (int status, string text) = await server.PostAsync(
                    "/KELP/new-shot",
                    "?handler=Import",
                    ("Json", new string(' ', 4_000_000))
                );
                Expect(
                    wrong,
                    !text.Contains("   at ", StringComparison.Ordinal),
                    $"a large form without temporary room answers {status} with a trace"
                );
                (status, _) = await server.GetAsync("/KELP/KP010/plan");
                Expect(wrong, status == 200, $"a page afterwards answers {status}");
                await server.CheckAsync("KP010");
                Free(disk);
                (status, _) = await server.PostAsync("/KELP/new-shot", "?handler=Import", ("Json", "{}"));
                Expect(wrong, status == 200, $"once there is room a form answers {status}");
                return 4;
            }
        );

    private static async Task<(int, IReadOnlyCollection<string>)> OnAsync(
        string work,
        string folder,
        int mebibytes,
        Func<TrialServer, string, List<string>, Task<int>> run
    )
    {
        string disk = Path.Combine(work, folder);
        Directory.CreateDirectory(disk);
        if (Mount("mount", "-t", "tmpfs", "-o", $"size={mebibytes}m", "tmpfs", disk) != 0)
        {
            return (0, ["a disk of its own cannot be made here: run the trial as root"]);
        }

        var wrong = new List<string>();
        try
        {
            using var server = new TrialServer(work, folder == "data" ? disk : null, folder == "crates" ? disk : null);
            if (folder == "tmp")
            {
                server.Environment["TMPDIR"] = disk;
                server.Environment["ASPNETCORE_TEMP"] = disk;
            }

            Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1004"), 96, 54);
            Disk.Render(plan, Path.Combine(server.Renders, "KP010"), null, []);
            await server.FillAsync(plan);
            await server.StartAsync();
            int tried = await run(server, disk, wrong);
            Expect(wrong, server.Integrity() == "ok", "integrity_check is not ok");
            Expect(wrong, server.IsRunning, $"the application ended: {server.Errors}");
            return (tried, wrong);
        }
        finally
        {
            Mount("umount", "-l", disk);
        }
    }

    /// <summary>Whether a page shows no work that goes on.</summary>
    private static bool IsOver(string page) =>
        !page.Contains("being sealed<", StringComparison.Ordinal) && !page.Contains("role=\"progressbar\"", StringComparison.Ordinal);

    private static async Task<(int Status, string Text)> EditAsync(TrialServer server)
    {
        await using DuneCrateContext database = server.Database();
        int revision = await database.Shots.Select(s => s.Revision).SingleAsync();
        PlanEdit edit = new WriteCells([new CellText("kelp", "uv", revision % 2 == 0 ? "x" : "")]);
        return await server.EditAsync(
            "KP010",
            JsonSerializer.Serialize(
                new
                {
                    revision,
                    view = "sheet",
                    edit,
                },
                AnyJson.Options
            )
        );
    }

    private static void Fill(string disk, long leave = 0)
    {
        long room = new DriveInfo(disk).AvailableFreeSpace - leave;
        using FileStream filler = File.Create(Path.Combine(disk, "filler"));
        byte[] block = new byte[1 << 16];
        try
        {
            for (; room > 0; room -= block.Length)
            {
                filler.Write(block, 0, (int)Math.Min(room, block.Length));
            }

            filler.Flush();
        }
        catch (IOException)
        {
            // Full, as it should be.
        }
    }

    private static void Free(string disk) => File.Delete(Path.Combine(disk, "filler"));

    private static void Expect(List<string> wrong, bool isSo, string otherwise)
    {
        if (!isSo)
        {
            wrong.Add(otherwise);
        }
    }

    private static int Mount(string program, params string[] arguments)
    {
        using Process process = Process.Start(new ProcessStartInfo(program, arguments) { RedirectStandardError = true })!;
        process.WaitForExit();
        return process.ExitCode;
    }
}

using DuneCrate.Foundation.Frames;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Bench.Trial;

/// <summary>The whole trial: what a bad day and a bad will can do to the application, and a table of what held.</summary>
internal static class TrialRun
{
    private const double MostMebibytes = 1000;

    /// <summary>Runs it.</summary>
    /// <param name="work">A folder that is thrown away afterwards.</param>
    /// <param name="only">Words of which an attack's name must hold one; none for all.</param>
    /// <param name="scale">What the numbers of tries are divided by.</param>
    /// <returns>Whether everything held.</returns>
    public static async Task<bool> RunAsync(string work, string[] only, int scale)
    {
        var table = new TrialTable();
        Console.WriteLine("Trial: what is lost, left over or out of place");
        TrialTable.PrintHeads();
        string At(string name) => Directory.CreateDirectory(Path.Combine(work, name)).FullName;
        async Task Try(string attack, Func<Task<(int, IReadOnlyCollection<string>)>> run)
        {
            if (only.Length == 0 || only.Any(w => attack.Contains(w, StringComparison.OrdinalIgnoreCase)))
            {
                await table.RunAsync(attack, run);
            }
        }

        await Try("kills while sealing", () => KillTrials.SealAsync(At("seal"), 50 / scale));
        await Try("kills while renaming 3,000 files", () => KillTrials.RenameAsync(At("rename"), 20 / scale));
        await Try("kills while three people edit", () => KillTrials.EditAsync(At("edit"), 20 / scale));
        await Try("kills while migrating", () => KillTrials.MigrateAsync(At("migrate"), 10 / scale));
        await Try("full disk under the database", () => FullDiskTrials.DataAsync(At("disk1")));
        await Try("full disk under the crates", () => FullDiskTrials.CratesAsync(At("disk2")));
        await Try("full disk under temporary files", () => FullDiskTrials.TemporaryAsync(At("disk3")));

        await Try("engine outages", () => EngineTrials.OutagesAsync(At("outages"), 50 / scale));
        await Try("malformed messages of an engine", () => EngineTrials.MalformedAsync(At("malformed"), 5_000 / scale));
        await Try("2,000 shots and 100,000 files", () => ScaleTrials.RunAsync(At("scale"), 2_000 / scale, 100_000 / scale));

        await Try("mutated headers", () => HeaderTrials.RunAsync(At("headers"), 20_000 / scale));
        await Try("clock jumps of a day", () => ClockTrials.RunAsync(At("clock"), 50 / scale));

        using (var server = new TrialServer(At("hostile")))
        {
            var plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1004"), 64, 36);
            Disk.Render(plan, Path.Combine(server.Renders, "KP010"), null, []);
            await server.FillAsync([
                plan,
                StandInPlan.Create("KP050", FrameSet.Parse("1001-1003"), 16384, 16384),
                .. MutationTrials.Formats.Select(MutationTrials.PlanOf),
            ]);
            await server.StartAsync();
            await server.CheckAsync("KP010");
            double usual = await server.TimedCheckAsync("KP010");
            Task TryHere(string attack, Func<Task<(int, IReadOnlyCollection<string>)>> run) =>
                Try(
                    attack,
                    async () =>
                    {
                        (int tried, IReadOnlyCollection<string> wrong) = await run();
                        double after = await server.TimedCheckAsync("KP010");
                        return (
                            tried,
                            after < 3 * usual + 2
                                ? wrong
                                : [.. wrong, $"another shot is checked in {after:0.0} s after it, {usual:0.0} s before"]
                        );
                    }
                );
            await TryHere("hostile queries", () => HostileTrials.QueriesAsync(server, 1000 / scale));
            await TryHere("bombs of text", () => HostileTrials.TextsAsync(server));
            foreach (string format in MutationTrials.Formats)
            {
                await TryHere($"mutated files: {format}", () => MutationTrials.RunAsync(server, format, 20_000 / scale));
            }

            await TryHere("bombs of pixels", () => HostileTrials.PixelsAsync(server));
            server.NotePeak();
            await Try(
                "the server under all of it",
                () =>
                    Task.FromResult(
                        (
                            1,
                            (IReadOnlyCollection<string>)
                                [
                                    .. server.IsRunning ? Array.Empty<string>() : [$"ended: {server.Errors}"],
                                    .. server.Integrity() == "ok" ? Array.Empty<string>() : ["integrity_check is not ok"],
                                    .. TrialServer.PeakMebibytes < MostMebibytes
                                        ? Array.Empty<string>()
                                        : [$"took {TrialServer.PeakMebibytes:0} MiB"],
                                ]
                        )
                    )
            );
        }

        Console.WriteLine($"  most memory that a server took: {TrialServer.PeakMebibytes:0} MiB (bound {MostMebibytes:0})");
        return table.Held;
    }
}

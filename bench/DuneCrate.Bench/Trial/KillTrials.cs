using System.Diagnostics;
using System.Text.Json;
using DuneCrate.Crates;
using DuneCrate.Crates.Events;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace DuneCrate.Bench.Trial;

/// <summary>The server is killed in the middle of what it does; afterwards nothing is lost, left over or out of place.</summary>
internal static class KillTrials
{
    private const int Seed = 20261126;

    private static readonly TimeSpan Tidying = TimeSpan.FromSeconds(5);

    /// <summary>Kills while a crate is sealed: every third at the very moment at which the crate appears.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> SealAsync(string work, int times)
    {
        var wrong = new List<string>();
        var random = new Random(Seed);
        using var server = new TrialServer(work);
        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1006"), 96, 54);
        Disk.Render(plan, Path.Combine(server.Renders, "KP010"), null, []);
        await server.FillAsync(plan);
        await server.StartAsync();
        await server.CheckAsync("KP010");
        string place = Path.Combine(server.Crates, "KELP", "KP010");
        for (int i = 1; i <= times; i++)
        {
            int before = Directory.Exists(place) ? Directory.GetDirectories(place, "KP010_*").Length : 0;
            await server.PostAsync("/KELP/KP010/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
            if (i % 3 == 0)
            {
                for (
                    int wait = 0;
                    wait < 20_000 && (!Directory.Exists(place) || Directory.GetDirectories(place, "KP010_*").Length == before);
                    wait++
                )
                {
                    await Task.Yield();
                }
            }
            else
            {
                await Task.Delay(random.Next(0, 1200));
            }

            server.Kill();
            await RestartAsync(server, wrong, $"seal {i}");
            await server.UntilAsync("/KELP/KP010/crate", text => !text.Contains("being sealed<", StringComparison.Ordinal));
            wrong.AddRange((await SettledAsync(() => CratesAsync(server, place))).Select(w => $"seal {i}: {w}"));
        }

        return (times, wrong);
    }

    /// <summary>What is still wrong when a start has had a while to tidy up and to write histories.</summary>
    private static async Task<List<string>> SettledAsync(Func<Task<List<string>>> wrong)
    {
        List<string> found = await wrong();
        for (long begun = Stopwatch.GetTimestamp(); found.Count > 0 && Stopwatch.GetElapsedTime(begun) < Tidying; found = await wrong())
        {
            await Task.Delay(TimeSpan.FromMilliseconds(100));
        }

        return found;
    }

    private static async Task<List<string>> CratesAsync(TrialServer server, string place)
    {
        var wrong = new List<string>();
        await using DuneCrateContext database = server.Database();
        CrateRow[] rows = [.. await database.Crates.AsNoTracking().ToListAsync()];
        string[] there =
        [
            .. (Directory.Exists(place) ? Directory.GetFileSystemEntries(place) : []).Select(p => Path.GetFileName(p)!).Order(),
        ];
        string[] known = [.. rows.Where(r => r.State == JobState.Done).Select(r => r.Name!).Order()];
        there = [.. there.Except(known.Select(k => k + "." + CrateHistory.FileName))];
        if (!there.SequenceEqual(known))
        {
            wrong.Add($"there are {string.Join(' ', there)}; known are {string.Join(' ', known)}");
        }

        wrong.AddRange(rows.Where(r => r.State is JobState.Queued or JobState.Running).Select(r => $"crate {r.Id} is {r.State} for ever"));
        wrong.AddRange(rows.Where(r => r.State is JobState.Failed).Select(r => $"crate {r.Id} failed: {r.Problem}"));
        foreach (CrateRow row in rows.Where(r => r.State == JobState.Done).TakeLast(2))
        {
            CrateProof proof = CrateVerifier.Verify(Disk.Folder(row.Path!), row.SumsDigest, default);
            wrong.AddRange(proof.Problems.Select(p => $"{row.Name}: {p}"));
        }

        return wrong;
    }

    /// <summary>Kills while 3,000 files are renamed; every old name is given back.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> RenameAsync(string work, int times)
    {
        const int Files = 3000;
        var wrong = new List<string>();
        var random = new Random(Seed);
        using var server = new TrialServer(work);
        Plan one = StandInPlan.Create("KP020", FrameSet.Single(1001), 16, 16);
        LayerPlan sub = one.Layers[0] with { Outputs = [one.Layers[0].Outputs[0]] };
        string folder = Path.Combine(server.Renders, "KP020");
        Disk.Render(one with { Layers = [sub] }, folder, null, []);
        string source = Path.Combine(folder, "sub", "KP020_sub.1001.exr");
        for (int frame = 1001; frame < 1001 + Files; frame++)
        {
            File.Copy(source, Path.Combine(folder, "sub", $"KP020_sbu.{frame}.exr"));
        }

        File.Delete(source);
        string[] before = Names(folder);
        await server.FillAsync(one with { Shot = one.Shot with { Frames = FrameSet.Range(1001, 1000 + Files) }, Layers = [sub] });
        await server.StartAsync();
        int caught = 0;
        for (int i = 1; i <= times; i++)
        {
            // The answer never comes: the server is gone by then.
            Task posted = server.PostAsync("/KELP/KP020/check", "?handler=Rename").ContinueWith(t => t.Exception, TaskScheduler.Default);
            if (i % 4 != 0)
            {
                while (!posted.IsCompleted && File.Exists(Path.Combine(folder, "sub", $"KP020_sbu.{1001 + random.Next(Files)}.exr")))
                {
                    await Task.Yield();
                }
            }
            else
            {
                await Task.Delay(random.Next(0, 3000));
            }

            server.Kill();
            string[] half = Names(folder);
            caught += half.SequenceEqual(before) || half.All(n => n.Contains("_sub.", StringComparison.Ordinal)) ? 0 : 1;
            await RestartAsync(server, wrong, $"rename {i}");
            await server.PostAsync("/KELP/KP020/check", "?handler=Unrename");
            if (!Names(folder).SequenceEqual(before))
            {
                wrong.Add($"rename {i}: {Names(folder).Except(before).Count()} of {Files} files have other names still");
                break;
            }
        }

        Console.Error.WriteLine($"    {caught} of {times} kills came in the middle of the renaming");
        return (times, wrong);
    }

    /// <summary>Kills while three people edit; what was acknowledged is there.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> EditAsync(string work, int times)
    {
        var wrong = new List<string>();
        var random = new Random(Seed);
        using var server = new TrialServer(work);
        await server.FillAsync(StandInPlan.Create("KP030", FrameSet.Parse("1001-1048"), 96, 54));
        await server.StartAsync();
        for (int i = 1; i <= times; i++)
        {
            int acknowledged = await RevisionAsync(server);
            using var over = new CancellationTokenSource();
            Task[] people =
            [
                .. Enumerable
                    .Range(0, 3)
                    .Select(person =>
                        Task.Run(async () =>
                        {
                            for (int edit = 0; !over.IsCancellationRequested; edit++)
                            {
                                try
                                {
                                    var cells = new WriteCells([
                                        new CellText("kelp", "uv", edit % 2 == 0 ? "x" : ""),
                                        new CellText("sub", person == 0 ? "velocity" : "position", edit % 3 == 0 ? "x" : ""),
                                    ]);
                                    (int status, string text) = await server.EditAsync(
                                        "KP030",
                                        JsonSerializer.Serialize(
                                            new
                                            {
                                                revision = acknowledged,
                                                view = "sheet",
                                                edit = (PlanEdit)cells,
                                            },
                                            AnyJson.Options
                                        )
                                    );
                                    if (
                                        status == 200
                                        && JsonDocument.Parse(text).RootElement.TryGetProperty("revision", out JsonElement revision)
                                    )
                                    {
                                        InterlockedMax(ref acknowledged, revision.GetInt32());
                                    }
                                }
                                catch (Exception e)
                                    when (e is HttpRequestException or IOException or TaskCanceledException or JsonException)
                                {
                                    return;
                                }
                            }
                        })
                    ),
            ];
            await Task.Delay(random.Next(100, 1500));
            server.Kill();
            await over.CancelAsync();
            await Task.WhenAll(people);
            await RestartAsync(server, wrong, $"edit {i}");
            int now = await RevisionAsync(server);
            if (now < acknowledged)
            {
                wrong.Add($"edit {i}: revision {acknowledged} was acknowledged, and {now} is there");
            }

            if (PlanDocument.Read((await server.GetAsync("/KELP/KP030/plan?handler=Export")).Text).Plan is null)
            {
                wrong.Add($"edit {i}: the plan cannot be read");
            }
        }

        return (times, wrong);
    }

    private static void InterlockedMax(ref int most, int value)
    {
        for (
            int seen = Volatile.Read(ref most);
            value > seen && Interlocked.CompareExchange(ref most, value, seen) != seen;
            seen = Volatile.Read(ref most)
        ) { }
    }

    private static async Task<int> RevisionAsync(TrialServer server)
    {
        await using DuneCrateContext database = server.Database();
        return await database.Shots.Where(s => s.Code == "KP030").Select(s => s.Revision).SingleAsync();
    }

    /// <summary>Kills while an old database is brought up to date; the next start finds everything.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> MigrateAsync(string work, int times)
    {
        const int Rows = 200_000;
        var wrong = new List<string>();
        using var server = new TrialServer(work);
        Directory.CreateDirectory(server.Data);
        string file = Path.Combine(server.Data, "dune-crate.db"),
            old = Path.Combine(work, "old.db");
        await using (
            DuneCrateContext context = new(
                new DbContextOptionsBuilder<DuneCrateContext>().UseSqlite($"Data Source={old};Pooling=False").Options
            )
        )
        {
            await context.GetService<IMigrator>().MigrateAsync("20261127150401_SceneHelpers");
            await context.Database.ExecuteSqlRawAsync(
                """
                INSERT INTO shows (Id, Code, Name, FrameRate, Width, Height) VALUES (1, 'KELP', 'The Kelp Post', '24/1', 640, 360);
                INSERT INTO shots (Id, ShowId, Code, Folder, PlanJson, Revision, LastEvent, LastEventAt)
                VALUES (1, 1, 'KP010', '', '{{}}', 3, 'planned', '2026-05-04 12:00:00');
                WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 200000)
                INSERT INTO waivers (ShotId, Rule, Output, Pass, Frames, "By", Reason, At)
                SELECT 1, 'pixels.black', 'sub/KP010_sub.####.exr', 'beauty', i, 'Ada Reed', 'night', '2026-05-04 12:00:00' FROM n;
                """
            );
        }

        int caught = 0;
        for (int i = 1; i <= times; i++)
        {
            foreach (string left in Directory.GetFiles(server.Data, "dune-crate.db*"))
            {
                File.Delete(left);
            }

            File.Copy(old, file);
            server.Launch();
            string copy = file + ".migrating";
            if (i % 2 == 0)
            {
                for (int wait = 0; wait < 200_000 && !File.Exists(copy) && server.IsRunning; wait++)
                {
                    await Task.Yield();
                }

                await Task.Delay(i * 4);
            }
            else
            {
                await Task.Delay(300 + i * 90);
            }

            caught += File.Exists(copy) ? 1 : 0;
            server.Kill();
            await RestartAsync(server, wrong, $"migrate {i}");
            SqliteConnection.ClearAllPools();
            await using DuneCrateContext now = server.Database();
            if (await now.Waivers.CountAsync() != Rows || (await now.Database.GetPendingMigrationsAsync()).Any())
            {
                wrong.Add($"migrate {i}: rows were lost or migrations left out");
            }

            server.Kill();
        }

        Console.Error.WriteLine($"    {caught} of {times} kills came in the middle of the migration");
        return (times, wrong);
    }

    private static async Task RestartAsync(TrialServer server, List<string> wrong, string what)
    {
        if (server.Integrity() is not "ok" and var found)
        {
            wrong.Add($"{what}: integrity_check says {found}");
        }

        if (!await server.StartAsync())
        {
            throw new InvalidOperationException($"{what}: the application did not start again: {server.Errors}");
        }
    }

    private static string[] Names(string folder) =>
        [
            .. Directory
                .GetFiles(folder, "*.exr", SearchOption.AllDirectories)
                .Select(p => Path.GetFileName(p)!)
                .Order(StringComparer.Ordinal),
        ];
}

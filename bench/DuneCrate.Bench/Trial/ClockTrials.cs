using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store.Rows;

namespace DuneCrate.Bench.Trial;

/// <summary>
/// The machine's clock jumps by a day, to and fro, while a shot is checked by another machine and sealed: nobody waits, and what was found
/// and sealed is what there is. The clock of the server's process alone is moved, by Debian's faketime.
/// </summary>
internal static class ClockTrials
{
    private const int Seed = 20261201;

    /// <summary>Jumps forward and back in turn, at random moments.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> RunAsync(string work, int times)
    {
        string library =
            Directory.GetDirectories("/usr/lib", "*-linux-gnu").Select(d => $"{d}/faketime/libfaketime.so.1").FirstOrDefault(File.Exists)
            ?? throw new InvalidOperationException("install Debian's faketime first");
        string clock = Path.Combine(work, "clock");
        File.WriteAllText(clock, "+0");
        List<string> wrong = [];
        var random = new Random(Seed);
        using var broker = new BenchBroker(Path.Combine(work, "js"));
        using var server = new TrialServer(work);
        using var worker = new BenchWorker(broker, server.Renders);
        server.Arguments.AddRange(["--engine", broker.Options.Shown]);
        foreach (
            (string name, string value) in (IEnumerable<(string, string)>)
                [
                    ("LD_PRELOAD", library),
                    ("FAKETIME_TIMESTAMP_FILE", clock),
                    ("FAKETIME_NO_CACHE", "1"),
                    ("FAKETIME_DONT_FAKE_MONOTONIC", "1"),
                    ("NO_FAKE_STAT", "1"),
                ]
        )
        {
            server.Environment[name] = value;
        }

        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1008"), 320, 180);
        string folder = Path.Combine(server.Renders, "KP010");
        Disk.Render(plan, folder, null, []);
        await server.FillAsync(plan);
        await server.StartAsync();
        await server.CheckAsync("KP010");
        for (int i = 1; i <= times; i++)
        {
            foreach (string file in Directory.EnumerateFiles(folder, "*.exr", SearchOption.AllDirectories))
            {
                File.SetLastWriteTimeUtc(file, DateTime.UtcNow.AddMinutes(-5).AddSeconds(-i));
            }

            // Forward from today and back again, or back from today and forward again.
            string to = (i % 4) switch
            {
                1 => "+1d",
                3 => "-1d",
                _ => "+0",
            };
            int wait = random.Next(0, 1500);
            Task jump = Task.CompletedTask;
            void Begin() =>
                jump = Task.Run(async () =>
                {
                    await Task.Delay(wait);
                    await File.WriteAllTextAsync(clock + ".next", to);
                    File.Move(clock + ".next", clock, overwrite: true);
                });
            try
            {
                wrong.AddRange((await OneAsync(server, i % 3 == 0, Begin)).Select(w => $"jump {i} to {to}: {w}"));
            }
            catch (TimeoutException e)
            {
                wrong.Add($"jump {i} to {to}: {e.Message}");
            }

            await jump;
        }

        if (worker.Files == 0)
        {
            wrong.Add("the other machine read nothing");
        }

        return (times, wrong);
    }

    /// <summary>A check or a check and a seal, of which the last sees the clock jump; the session may end with the day.</summary>
    private static async Task<List<string>> OneAsync(TrialServer server, bool isSealed, Action jump)
    {
        List<string> wrong = [];
        await server.SignInAsync();
        int before = (await server.CheckOfAsync("KP010")).Id;
        CheckRow check = await server.CheckAgainAsync("KP010", 60, isSealed ? null : jump);
        if (check.Id == before || check.State != JobState.Done)
        {
            wrong.Add($"the check is {check.State} {check.Problem}");
        }

        if (isSealed && await server.SealAsync("KP010", 60, jump) is { } problem)
        {
            wrong.Add(problem);
        }

        await server.SignInAsync();
        if ((await server.GetAsync("/KELP/KP010/check")).Status != 200)
        {
            wrong.Add("the page does not answer");
        }

        return wrong;
    }
}

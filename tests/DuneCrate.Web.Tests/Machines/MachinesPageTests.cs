using System.Net;
using System.Text.Json.Nodes;
using DuneCrate.Checking;
using DuneCrate.Checking.Findings;
using DuneCrate.Engine;
using DuneCrate.Shots;
using Microsoft.AspNetCore.Builder;

namespace DuneCrate.Web.Tests.Machines;

/// <summary>The page of machines and the command line, with an engine and without.</summary>
public sealed class MachinesPageTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-page-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private async Task<(WebApplication App, HttpClient Client)> StartAsync(string root, EngineOptions? engine)
    {
        WebApplication app = DuneCrateApp.Build(
            ServeOptions.ForServe(Path.Combine(_folder, "data"), 0, "127.0.0.1", [$"renders={root}"]).WithoutAccounts() with
            {
                Engine = engine,
            }
        );
        await app.StartAsync();
        return (app, new HttpClient { BaseAddress = new Uri(app.Urls.First()) });
    }

    [Fact]
    public async Task Without_an_engine_the_page_says_how_to_get_one()
    {
        (WebApplication app, HttpClient client) = await StartAsync(_folder, null);
        await using (app)
        {
            Assert.Contains("./dune worker --engine", await client.GetStringAsync("/machines"), StringComparison.Ordinal);
            Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/machines?handler=Now")).StatusCode);
            await app.StopAsync();
        }
    }

    [Fact]
    public async Task Engine_that_is_away_is_said_and_the_server_reads_itself()
    {
        (WebApplication app, HttpClient client) = await StartAsync(_folder, EngineOptions.At("nats://127.0.0.1:1"));
        await using (app)
        {
            string page = WebUtility.HtmlDecode(await client.GetStringAsync("/machines"));
            Assert.True(
                page.Contains("no engine answers", StringComparison.Ordinal)
                    || page.Contains("has not answered yet", StringComparison.Ordinal)
            );
            await app.StopAsync();
        }
    }

    [Fact]
    public async Task Page_and_the_engines_own_numbers_agree()
    {
        using var broker = new Broker();
        using var shot = new ShotOnDisk(4);
        (WebApplication app, HttpClient client) = await StartAsync(shot.Root, broker.Options);
        await using (app)
        {
            using var ending = new CancellationTokenSource();
            Broker.Until(() =>
                client.GetStringAsync("/machines").Result is var p && p.Contains("pieces of whole folders", StringComparison.Ordinal)
                    ? p
                    : null
            );
            Task work = shot.WorkerHere(broker).RunAsync(ending.Token);
            Broker.Until(() =>
                client.GetStringAsync("/machines").Result is var p && p.Contains("waiting for work", StringComparison.Ordinal) ? p : null
            );
            JsonNode told = JsonNode.Parse(await new HttpClient().GetStringAsync($"{broker.Monitor}/jsz"))!;
            Assert.Equal(3, (int)told["streams"]!);
            Assert.Equal(0, (int)told["messages"]!);
            Assert.Equal("ok", (string?)JsonNode.Parse(await new HttpClient().GetStringAsync($"{broker.Monitor}/healthz"))!["status"]);
            await ending.CancelAsync();
            await work;
            Broker.Until(() =>
                client.GetStringAsync("/machines").Result is var p && p.Contains("leaving", StringComparison.Ordinal) ? p : null
            );
            await app.StopAsync();
        }
    }

    [Fact]
    public async Task First_frame_does_not_wait_behind_a_whole_folder()
    {
        using var broker = new Broker();
        using var shot = new ShotOnDisk(24);
        await using EngineGatherer server = shot.Server(broker, "first");
        using var ending = new CancellationTokenSource();
        Task work = shot.WorkerHere(broker).RunAsync(ending.Token);
        Task<string> bulk = Task.Run(() => ShotOnDisk.Text(shot.Check(server)));
        Broker.Until(() => shot.Said.FirstOrDefault(l => l.Contains("reading", StringComparison.Ordinal)));
        CheckRequest request = shot.Asked();
        var findings = FirstFrameCheck.Run(request with { Gatherer = server }, "kelp", 1001, default);
        Assert.False(bulk.IsCompleted, "The whole folder was read before the first frame.");
        Assert.Equal(FirstFrameCheck.Run(request, "kelp", 1001, default).Select(Words), findings.Select(Words));
        Assert.Equal(shot.Here, await bulk);
        await ending.CancelAsync();
        await work;
    }

    private static string Words(Finding finding) => $"{finding.Rule} {finding.Output} {finding.Frames} {finding.Message}";

    [Fact]
    public void Command_line_asks_workers_and_leaves_nothing_behind()
    {
        using var broker = new Broker();
        using var shot = new ShotOnDisk(2);
        using var worker = new WorkerProcess(broker, shot.Root);
        worker.WaitFor("reads renders");
        string folder = Path.Combine(shot.Root, "KP010"),
            plan = Path.Combine(folder, "plan.json");
        string[] check = ["check", folder, "--plan", plan, "--depth", "pixels", "--json", "-"];
        string here = CommandLine.Dune(check).Output;
        (int code, string there, string error) = CommandLine.Dune([.. check, "--engine", broker.Address, "--root", $"renders={shot.Root}"]);
        Assert.Equal(1, code);
        Assert.Equal(Untimed(here), Untimed(there));
        Assert.DoesNotContain("read here", error, StringComparison.Ordinal);
        worker.Signal("TERM");
        Assert.Equal(0, worker.WaitForEnd());
        Assert.Contains(worker.Lines, l => l.Contains("reading renders: KP010/", StringComparison.Ordinal));

        // What cannot be is said in one line.
        Assert.Contains(
            "lies in no root",
            Failed([.. check, "--engine", broker.Address, "--root", $"renders={_folder}"]),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "no engine answers",
            Failed([.. check, "--engine", "nats://127.0.0.1:1", "--root", $"renders={shot.Root}"]),
            StringComparison.Ordinal
        );
        Assert.Contains("--tls-ca goes with --engine", Failed([.. check, "--tls-ca", plan]), StringComparison.Ordinal);
        Assert.Contains("at least one folder", Failed(["worker", "--engine", broker.Address]), StringComparison.Ordinal);
        Assert.Contains("Name the engine", Failed(["worker", "--root", $"renders={shot.Root}"]), StringComparison.Ordinal);
        Assert.Contains(
            "0 threads",
            Failed(["worker", "--engine", broker.Address, "--root", $"renders={shot.Root}", "--threads", "0"]),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "There is no folder",
            Failed(["worker", "--engine", broker.Address, "--root", "renders=/nowhere"]),
            StringComparison.Ordinal
        );
    }

    private static string Failed(string[] command)
    {
        (int code, _, string error) = CommandLine.Dune(command);
        Assert.Equal(2, code);
        Assert.Single(error.Trim().Split('\n'));
        return error;
    }

    private static string Untimed(string report) =>
        System.Text.RegularExpressions.Regex.Replace(report, "\"seconds\": [0-9.]+", "\"seconds\": 0");
}

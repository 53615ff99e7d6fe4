using System.Diagnostics;
using DuneCrate.Planning.Model;
using DuneCrate.Shots;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Bench;

/// <summary>The application as <c>./dune serve</c> starts it, in a process of its own, with one shot in it.</summary>
internal sealed class BenchServer : IDisposable
{
    private readonly Process _process;

    private BenchServer(Process process, string address) => (_process, Address) = (process, address);

    public string Address { get; }

    /// <summary>Fills a database with a shot of the show KELP and serves it.</summary>
    /// <param name="work">A folder for data and renders.</param>
    /// <param name="plan">The shot's plan.</param>
    /// <param name="fill">What else is put into the database, given the shot's row.</param>
    /// <param name="hasAccounts">Whether people sign in.</param>
    public static async Task<BenchServer> StartAsync(
        string work,
        Plan plan,
        Func<IServiceProvider, ShotRow, Task>? fill = null,
        bool hasAccounts = false
    )
    {
        string data = Path.Combine(work, "data"),
            renders = Path.Combine(work, "renders");
        Directory.CreateDirectory(renders);
        await using (
            WebApplication app = DuneCrateApp.Build(ServeOptions.ForServe(data, 0, "127.0.0.1", [$"renders={renders}"]).WithoutAccounts())
        )
        {
            ShowStore store = app.Services.GetRequiredService<ShowStore>();
            await store.AddShowAsync(new ShowRow { Code = "KELP", Name = "The Kelp Post" });
            ShotRow shot = (await store.AddShotAsync("KELP", plan))!;
            await (fill?.Invoke(app.Services, shot) ?? Task.CompletedTask);
        }

        return await ServeAsync(work, hasAccounts);
    }

    /// <summary>Serves what an earlier start has filled.</summary>
    /// <param name="work">The folder for data and renders.</param>
    /// <param name="hasAccounts">Whether people sign in.</param>
    public static async Task<BenchServer> ServeAsync(string work, bool hasAccounts = false)
    {
        string data = Path.Combine(work, "data"),
            renders = Path.Combine(work, "renders");
        var start = new ProcessStartInfo(PixelBench.Command) { RedirectStandardOutput = true };
        string[] alone = hasAccounts ? [] : ["--without-accounts"];
        foreach (string argument in (string[])["serve", "--data", data, "--root", $"renders={renders}", .. alone])
        {
            start.ArgumentList.Add(argument);
        }

        Process process = Process.Start(start)!;
        string? line = await process.StandardOutput.ReadLineAsync();
        return new BenchServer(process, line?.Split(' ')[^1] ?? throw new InvalidOperationException("The application did not start."));
    }

    public void Dispose()
    {
        _process.Kill(entireProcessTree: true);
        _process.WaitForExit();
        _process.Dispose();
    }
}

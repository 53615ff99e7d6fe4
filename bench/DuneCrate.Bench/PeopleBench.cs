using System.Collections.Concurrent;
using System.Diagnostics;
using System.Net;
using System.Text.RegularExpressions;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Bench;

/// <summary>
/// Fifty people who are signed in go over all pages while a check of every pixel runs: with a second between two pages each, and without
/// any rest; and while strangers guess passwords. Goal: no error, 95 of 100 answers within 200 ms; with strangers half of them in 100 ms.
/// </summary>
internal static partial class PeopleBench
{
    private const int People = 50,
        SignInsAtOnce = 20,
        Strangers = 40,
        Goal = 200,
        MedianGoal = 100;
    private const string Shot = "KP920",
        Password = "limpet ferry under glass";

    private static readonly TimeSpan Length = TimeSpan.FromSeconds(20),
        Rest = TimeSpan.FromSeconds(1);

    private static readonly string[] Pages =
    [
        "/",
        "/rules",
        "/account",
        "/KELP/summary",
        "/KELP/settings",
        "/KELP/history",
        .. "plan plan/scene plan/files plan/estimate plan/versions receive check look look/sheet stack/bits crate"
            .Split(' ')
            .Select(p => $"/KELP/{Shot}/{p}"),
    ];

    public static async Task RunAsync(string work)
    {
        Plan plan = StandInPlan.Create(Shot, FrameSet.Parse("1001-1096"), 640, 360);
        string folder = Path.Combine(work, "renders", Shot);
        Disk.Render(plan, folder, null, []);
        using BenchServer server = await BenchServer.StartAsync(
            work,
            plan,
            async (services, shot) =>
            {
                await services.GetRequiredService<ShowStore>().SetFolderAsync(shot.Id, "renders", Shot);
                await AddPeopleAsync(services, shot.ShowId);
            },
            hasAccounts: true
        );
        List<HttpClient> signedIn = [];
        foreach (int[] some in Enumerable.Range(0, People).Chunk(SignInsAtOnce))
        {
            signedIn.AddRange(await Task.WhenAll(some.Select(i => SignInAsync(server.Address, $"person{i}"))));
        }

        HttpClient[] browsers = [.. signedIn];
        await CheckAsync(browsers[0], "false", wait: true);
        foreach (string page in Pages)
        {
            (await browsers[0].GetAsync(page)).EnsureSuccessStatusCode();
        }

        Console.WriteLine($"{People} people over {Pages.Length} pages (goal: no error, 95 % within {Goal} ms)");
        Task Checks(CancellationToken stop) => KeepCheckingAsync(browsers[0], folder, stop);
        Task Guesses(CancellationToken stop) =>
            Task.WhenAll(Enumerable.Range(0, Strangers).Select(i => KeepGuessingAsync(server.Address, $"person{i}", stop)));
        await SayAsync("at rest, a page a second each", browsers, Rest, null);
        await SayAsync("while every pixel is checked, a page a second each", browsers, Rest, Checks);
        await SayAsync("while every pixel is checked, without any rest", browsers, TimeSpan.Zero, Checks);
        double median = await SayAsync($"while {Strangers} strangers guess passwords, a page a second each", browsers, Rest, Guesses);
        Ledger.Note($"a page while {Strangers} strangers guess passwords, at the median", median, "ms", MedianGoal, isMoreBetter: false);
    }

    private static async Task AddPeopleAsync(IServiceProvider services, int show)
    {
        await using AsyncServiceScope scope = services.CreateAsyncScope();
        var users = scope.ServiceProvider.GetRequiredService<UserManager<PersonRow>>();
        var context = scope.ServiceProvider.GetRequiredService<DuneCrateContext>();
        for (int i = 0; i < People; i++)
        {
            var person = new PersonRow { UserName = $"person{i}", Name = $"Person {i}" };
            await users.CreateAsync(person, Password);
            context.Memberships.Add(
                new MembershipRow
                {
                    PersonId = person.Id,
                    ShowId = show,
                    Role = ShowRole.Wrangler,
                }
            );
        }

        await context.SaveChangesAsync();
    }

    private static async Task<HttpClient> SignInAsync(string address, string account)
    {
        var browser = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer() }) { BaseAddress = new Uri(address) };
        await PostAsync(browser, "/sign-in", "/sign-in", ("Account", account), ("password", Password));
        return browser;
    }

    private static async Task PostAsync(HttpClient browser, string page, string to, params (string Name, string Value)[] fields)
    {
        string token = Token().Match(await browser.GetStringAsync(page)).Groups[1].Value;
        using var form = new FormUrlEncodedContent(
            fields.Append(("__RequestVerificationToken", token)).Select(f => KeyValuePair.Create(f.Item1, f.Item2))
        );
        (await browser.PostAsync(to, form)).EnsureSuccessStatusCode();
    }

    /// <summary>Has the shot checked; every file is read anew, since a renderer wrote it again.</summary>
    private static async Task CheckAsync(HttpClient browser, string pixels, bool wait)
    {
        await PostAsync(browser, $"/KELP/{Shot}/receive", $"/KELP/{Shot}/receive?handler=Check", ("pixels", pixels));
        while (
            wait && (await browser.GetStringAsync($"/KELP/{Shot}/receive?handler=Progress")).Contains("Taking in", StringComparison.Ordinal)
        )
        {
            await Task.Delay(200);
        }
    }

    /// <returns>The median answer in milliseconds.</returns>
    private static async Task<double> SayAsync(string what, HttpClient[] browsers, TimeSpan rest, Func<CancellationToken, Task>? meanwhile)
    {
        using var stop = new CancellationTokenSource();
        Task going = meanwhile?.Invoke(stop.Token) ?? Task.CompletedTask;
        var times = new ConcurrentBag<double>();
        int errors = 0;
        long start = Stopwatch.GetTimestamp();
        await Task.WhenAll(
            browsers.Select(
                async (browser, i) =>
                {
                    await Task.Delay(rest * (i / (double)People));
                    for (int page = i; Stopwatch.GetElapsedTime(start) < Length; page++)
                    {
                        long begin = Stopwatch.GetTimestamp();
                        using HttpResponseMessage answer = await browser.GetAsync(Pages[page % Pages.Length]);
                        await answer.Content.ReadAsByteArrayAsync();
                        double took = Stopwatch.GetElapsedTime(begin).TotalMilliseconds;
                        times.Add(took);
                        if (!answer.IsSuccessStatusCode)
                        {
                            Interlocked.Increment(ref errors);
                        }

                        await Task.Delay(rest);
                    }
                }
            )
        );
        await stop.CancelAsync();
        await going;
        double[] sorted = [.. times.Order()];
        double high = sorted[(int)(sorted.Length * 0.95)];
        Console.WriteLine(
            $"  {what, -52} {sorted.Length / Length.TotalSeconds, 5:0} pages/s   median {sorted[sorted.Length / 2], 5:0} ms   "
                + $"95 % {high, 5:0} ms   worst {sorted[^1], 6:0} ms   errors {errors}{(high > Goal || errors > 0 ? "   MISSED" : "")}"
        );
        return sorted[sorted.Length / 2];
    }

    /// <summary>A stranger with a browser of their own who tries one password after the other, whatever the answer is.</summary>
    private static async Task KeepGuessingAsync(string address, string account, CancellationToken stop)
    {
        using var browser = new HttpClient { BaseAddress = new Uri(address) };
        string token = Token().Match(await browser.GetStringAsync("/sign-in", CancellationToken.None)).Groups[1].Value;
        for (int i = 0; !stop.IsCancellationRequested; i++)
        {
            using var form = new FormUrlEncodedContent([
                new("Account", account),
                new("password", $"wrong guess number {i}"),
                new("__RequestVerificationToken", token),
            ]);
            (await browser.PostAsync("/sign-in", form, CancellationToken.None)).Dispose();
        }
    }

    /// <summary>One check of every pixel after the other; files that are written anew in between are read anew.</summary>
    private static async Task KeepCheckingAsync(HttpClient browser, string folder, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            foreach (string file in Directory.EnumerateFiles(folder, "*", SearchOption.AllDirectories))
            {
                File.SetLastWriteTimeUtc(file, DateTime.UtcNow.AddMinutes(-5));
            }

            await CheckAsync(browser, "true", wait: true);
        }
    }

    [GeneratedRegex("""name="__RequestVerificationToken" type="hidden" value="([^"]+)""")]
    private static partial Regex Token();
}

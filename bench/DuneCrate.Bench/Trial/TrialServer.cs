using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Text.RegularExpressions;
using DuneCrate.Crates;
using DuneCrate.Planning.Model;
using DuneCrate.Shots;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Identity;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Bench.Trial;

/// <summary>The application in a process of its own that can be killed, on folders that stay; and a browser that asks it.</summary>
internal sealed partial class TrialServer : IDisposable
{
    private const string Account = "ada",
        Password = "limpet ferry under glass";
    private Process? _process;
    private HttpClient _client = new();
    private bool _hasAccount;

    /// <param name="work">A folder for everything.</param>
    /// <param name="data">The application's own folder; below <paramref name="work"/> unless it is named.</param>
    /// <param name="crates">Where crates go; the same.</param>
    public TrialServer(string work, string? data = null, string? crates = null)
    {
        (Data, Renders, Crates) = (
            data ?? Path.Combine(work, "data"),
            Path.Combine(work, "renders"),
            crates ?? Path.Combine(work, "crates")
        );
        Directory.CreateDirectory(Renders);
        Directory.CreateDirectory(Crates);
    }

    public string Data { get; }

    public string Renders { get; }

    public string Crates { get; }

    /// <summary>Most resident memory of any server so far, in MiB, as the kernel counts it.</summary>
    public static double PeakMebibytes { get; private set; }

    private static double _since;
    private static TrialServer? _newest;

    /// <summary>Most memory since this was last asked, in MiB; that of a server that goes on is counted anew from here.</summary>
    public static double TakePeak()
    {
        _newest?.NotePeak();
        double peak = _since;
        _since = 0;
        return peak;
    }

    /// <summary>Variables of the server's environment.</summary>
    public Dictionary<string, string> Environment { get; } = [];

    /// <summary>What else the server is started with.</summary>
    public List<string> Arguments { get; } = [];

    /// <summary>What the server said last on its error output.</summary>
    public string Errors { get; private set; } = "";

    /// <summary>Whether the server is there.</summary>
    public bool IsRunning => _process is { HasExited: false };

    /// <summary>Puts shots into the database before the server starts, and somebody who may do everything with them.</summary>
    public async Task FillAsync(params IEnumerable<Plan> plans)
    {
        await using WebApplication app = DuneCrateApp.Build(
            ServeOptions.ForServe(Data, 0, "127.0.0.1", [$"renders={Renders}", $"crates={Crates}"])
        );
        ShowStore store = app.Services.GetRequiredService<ShowStore>();
        await store.AddShowAsync(new ShowRow { Code = "KELP", Name = "The Kelp Post" });
        foreach (Plan plan in plans)
        {
            ShotRow shot = (await store.AddShotAsync("KELP", plan))!;
            await store.SetFolderAsync(shot.Id, "renders", plan.Shot.Code);
        }

        await using AsyncServiceScope scope = app.Services.CreateAsyncScope();
        var people = scope.ServiceProvider.GetRequiredService<UserManager<PersonRow>>();
        var context = scope.ServiceProvider.GetRequiredService<DuneCrateContext>();
        var person = new PersonRow
        {
            UserName = Account,
            Name = "Ada Reed",
            IsKeeper = true,
        };
        await people.CreateAsync(person, Password);
        context.Memberships.Add(
            new MembershipRow
            {
                PersonId = person.Id,
                ShowId = await context.Shows.Select(s => s.Id).SingleAsync(),
                Role = ShowRole.Wrangler,
            }
        );
        await context.SaveChangesAsync();
        _hasAccount = true;
    }

    /// <summary>Starts the server, and signs in where there is somebody; false when it ended at once.</summary>
    public async Task<bool> StartAsync()
    {
        Launch();
        string? line = await _process!.StandardOutput.ReadLineAsync();
        if (line is null)
        {
            _process.WaitForExit();
            return false;
        }

        _client.Dispose();
        _client = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer() })
        {
            BaseAddress = new Uri(line.Split(' ')[^1]),
            Timeout = TimeSpan.FromMinutes(2),
        };
        if (_hasAccount)
        {
            await SignInAsync();
        }

        return true;
    }

    /// <summary>Signs in, as after a restart or when a session has ended.</summary>
    public async Task SignInAsync()
    {
        (int status, _) = await PostAsync("/sign-in", "", ("Account", Account), ("password", Password));
        if (status != 200 || (await GetAsync("/account")).Status != 200)
        {
            throw new InvalidOperationException($"Signing in answers {status}.");
        }
    }

    /// <summary>Starts the process without waiting for anything.</summary>
    public void Launch()
    {
        var start = new ProcessStartInfo(PixelBench.Command) { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (
            string argument in (string[])
                ["serve", "--data", Data, "--root", $"renders={Renders}", "--root", $"crates={Crates}", .. Arguments]
        )
        {
            start.ArgumentList.Add(argument);
        }

        foreach ((string name, string value) in Environment)
        {
            start.Environment[name] = value;
        }

        Errors = "";
        _process = Process.Start(start)!;
        _newest = this;
        _process.ErrorDataReceived += (_, e) =>
            Errors = e.Data is { } line ? (Errors + line + "\n")[^Math.Min(Errors.Length + line.Length + 1, 4000)..] : Errors;
        _process.BeginErrorReadLine();
    }

    /// <summary>Kills the server as a power failure would: nothing is told.</summary>
    public void Kill()
    {
        if (_process is null)
        {
            return;
        }

        NotePeak();
        _process.Kill();
        _process.WaitForExit();
        _process.Dispose();
        _process = null;
    }

    /// <summary>Notes the most memory that the server took.</summary>
    public void NotePeak()
    {
        try
        {
            Match match = Peak().Match(File.ReadAllText($"/proc/{_process!.Id}/status"));
            double peak = match.Success ? long.Parse(match.Groups[1].Value, CultureInfo.InvariantCulture) / 1024.0 : 0;
            (PeakMebibytes, _since) = (Math.Max(PeakMebibytes, peak), Math.Max(_since, peak));
            File.WriteAllText($"/proc/{_process.Id}/clear_refs", "5"); // The kernel begins to count the most memory anew.
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or InvalidOperationException or NullReferenceException)
        {
            // It ended by itself, or the kernel counts on.
        }
    }

    public async Task<(int Status, string Text)> GetAsync(string path)
    {
        using HttpResponseMessage answer = await _client.GetAsync(path);
        return ((int)answer.StatusCode, WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()));
    }

    /// <summary>Posts a form as a page would.</summary>
    public async Task<(int Status, string Text)> PostAsync(
        string page,
        string query,
        params IEnumerable<(string Name, string Value)> fields
    )
    {
        string token = FormToken().Match(await _client.GetStringAsync(page)).Groups[1].Value;
        using var form = new MultipartFormDataContent();
        foreach ((string name, string value) in fields.Append(("__RequestVerificationToken", token)))
        {
            form.Add(new StringContent(value), name);
        }

        using HttpResponseMessage answer = await _client.PostAsync(page + query, form);
        return ((int)answer.StatusCode, WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()));
    }

    /// <summary>Sends a change of a plan as its pages do.</summary>
    public async Task<(int Status, string Text)> EditAsync(string shot, string body)
    {
        string token = HeaderToken().Match(WebUtility.HtmlDecode(await _client.GetStringAsync($"/KELP/{shot}/plan"))).Groups[1].Value;
        using var request = new HttpRequestMessage(HttpMethod.Post, $"/KELP/{shot}/plan/edit")
        {
            Content = new StringContent(body, System.Text.Encoding.UTF8, "application/json"),
        };
        request.Headers.Add("X-Form-Token", token);
        using HttpResponseMessage answer = await _client.SendAsync(request);
        return ((int)answer.StatusCode, await answer.Content.ReadAsStringAsync());
    }

    /// <summary>Asks for a page until it says what is awaited.</summary>
    public async Task<string> UntilAsync(string path, Func<string, bool> isReady, double seconds = 120)
    {
        long start = Stopwatch.GetTimestamp();
        string text;
        do
        {
            (_, text) = await GetAsync(path);
            if (isReady(text))
            {
                return text;
            }

            await Task.Delay(30);
        } while (Stopwatch.GetElapsedTime(start).TotalSeconds < seconds);
        throw new TimeoutException($"{path} does not say what was awaited: {Words(text)}");
    }

    /// <summary>A page's words without its markup, those of the list of keys left out.</summary>
    public static string Words(string page) => Tags().Replace(page.Split("<main")[^1].Split("<dialog")[0], " ");

    /// <summary>Checks a shot and waits for the end.</summary>
    public async Task CheckAsync(string shot, double seconds = 600)
    {
        await PostAsync(
            $"/KELP/{shot}/receive",
            "?handler=Take",
            ("root", "renders"),
            ("folder", shot),
            ("pixels", "true"),
            ("byContent", "false"),
            ("whole", "false")
        );
        await UntilAsync($"/KELP/{shot}/receive?handler=Progress", text => !text.Contains("Taking in", StringComparison.Ordinal), seconds);
    }

    /// <summary>Checks a shot as it lies there now, and waits for the end.</summary>
    public async Task<CheckRow> CheckAgainAsync(string shot, double seconds = 600, Action? meanwhile = null)
    {
        await PostAsync($"/KELP/{shot}/receive", "?handler=Check", ("pixels", "true"));
        meanwhile?.Invoke();
        return await UntilAsync(() => CheckOfAsync(shot), c => c.State is not (JobState.Queued or JobState.Running), seconds);
    }

    /// <summary>Seconds that a check of every pixel of a shot takes, all files read anew.</summary>
    public async Task<double> TimedCheckAsync(string shot)
    {
        foreach (string file in Directory.EnumerateFiles(Path.Combine(Renders, shot), "*.exr", SearchOption.AllDirectories))
        {
            File.SetLastWriteTimeUtc(file, File.GetLastWriteTimeUtc(file).AddSeconds(-1));
        }

        long start = Stopwatch.GetTimestamp();
        CheckRow check = await CheckAgainAsync(shot, 300);
        return check.State == JobState.Done
            ? Stopwatch.GetElapsedTime(start).TotalSeconds
            : throw new InvalidOperationException($"The check of {shot} is {check.State}: {check.Problem}");
    }

    /// <summary>Seals a shot, waits for the end and reads the crate back.</summary>
    /// <returns>Why there is no whole crate; null when there is.</returns>
    public async Task<string?> SealAsync(string shot, double seconds, Action? meanwhile = null)
    {
        int before = (await CrateOfAsync(shot))?.Id ?? 0;
        (_, string answer) = await PostAsync($"/KELP/{shot}/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
        meanwhile?.Invoke();
        CrateRow? crate = await UntilAsync(() => CrateOfAsync(shot), c => c?.State is not (JobState.Queued or JobState.Running), seconds);
        return crate is null || crate.Id == before ? $"refused: {Words(answer)}"
            : crate.State != JobState.Done ? $"{crate.State}: {crate.Problem}"
            : CrateVerifier.Verify(Disk.Folder(crate.Path!), crate.SumsDigest, default).Problems.FirstOrDefault();
    }

    private static async Task<T> UntilAsync<T>(Func<Task<T>> look, Func<T, bool> isReady, double seconds)
    {
        long start = Stopwatch.GetTimestamp();
        while (Stopwatch.GetElapsedTime(start).TotalSeconds < seconds)
        {
            if (await look() is var seen && isReady(seen))
            {
                return seen;
            }

            await Task.Delay(50);
        }

        throw new TimeoutException($"{typeof(T).Name} is not ready after {seconds} s");
    }

    private async Task<CrateRow?> CrateOfAsync(string shot)
    {
        await using DuneCrateContext database = Database();
        return await database
            .Crates.AsNoTracking()
            .Where(c => database.Shots.Any(s => s.Id == c.ShotId && s.Code == shot))
            .OrderByDescending(c => c.Id)
            .FirstOrDefaultAsync();
    }

    /// <summary>The newest check of a shot.</summary>
    public async Task<CheckRow> CheckOfAsync(string shot)
    {
        await using DuneCrateContext database = Database();
        return await database
            .Checks.AsNoTracking()
            .Where(c => database.Shots.Any(s => s.Id == c.ShotId && s.Code == shot))
            .OrderByDescending(c => c.Id)
            .FirstAsync();
    }

    /// <summary>What SQLite itself says of the database; "ok" when it is whole.</summary>
    public string Integrity()
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(Data, "dune-crate.db")};Mode=ReadOnly;Pooling=False");
        connection.Open();
        using SqliteCommand command = connection.CreateCommand();
        command.CommandText = "PRAGMA integrity_check";
        return (string)command.ExecuteScalar()!;
    }

    /// <summary>The database, for looking into it.</summary>
    public DuneCrateContext Database() =>
        new(
            new DbContextOptionsBuilder<DuneCrateContext>()
                .UseSqlite($"Data Source={Path.Combine(Data, "dune-crate.db")};Mode=ReadOnly;Pooling=False")
                .Options
        );

    public void Dispose()
    {
        Kill();
        _client.Dispose();
    }

    [GeneratedRegex(@"VmHWM:\s+(\d+)")]
    private static partial Regex Peak();

    [GeneratedRegex("<[^>]*>|\\s{2,}")]
    private static partial Regex Tags();

    [GeneratedRegex("""X-Form-Token":"([^"]+)""")]
    private static partial Regex HeaderToken();

    [GeneratedRegex("""name="__RequestVerificationToken" type="hidden" value="([^"]+)""")]
    private static partial Regex FormToken();
}

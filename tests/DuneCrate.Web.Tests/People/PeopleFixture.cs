using System.Net;
using System.Text.RegularExpressions;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.History;
using DuneCrate.Planning.Model;
using DuneCrate.Shots;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Web.Tests.People;

/// <summary>
/// The application with accounts: two shows, a keeper, and one person of each role in the first show. Clients are like browsers.
/// </summary>
public sealed partial class PeopleFixture : IAsyncLifetime
{
    public const string Password = "limpet ferry under glass";

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-people-").FullName;
    private WebApplication _app = null!;

    public string Data => Path.Combine(_folder, "data");

    public string Renders => Path.Combine(_folder, "renders");

    public IServiceProvider Services => _app.Services;

    public async ValueTask InitializeAsync()
    {
        Directory.CreateDirectory(Renders);
        Directory.CreateDirectory(Data);
        await StartAsync();
        ShowStore store = Services.GetRequiredService<ShowStore>();
        await store.AddShowAsync(new ShowRow { Code = "KELP", Name = "The Kelp Post" });
        await store.AddShowAsync(new ShowRow { Code = "REEF", Name = "Reef Letters" });
        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1002"), 64, 36);
        ShotRow shot = (await store.AddShotAsync("KELP", plan))!;
        Disk.Render(plan, Path.Combine(Renders, "KP010"), null, []);
        await store.SetFolderAsync(shot.Id, "renders", "KP010");
        await AddAsync("keeper", "Kit Marlow", isKeeper: true, null);
        await AddAsync("mara", "Mara Quill", isKeeper: false, ShowRole.Wrangler);
        await AddAsync("lior", "Lior Fenn", isKeeper: false, ShowRole.Lighter);
        await AddAsync("cosima", "Cosima Vale", isKeeper: false, ShowRole.Compositor);
        await AddAsync("stranger", "Sol Tarn", isKeeper: false, null);
    }

    public async Task StartAsync()
    {
        _app = DuneCrateApp.Build(ServeOptions.ForServe(Data, 0, "127.0.0.1", [$"renders={Renders}"]) with { HasFarm = true });
        await _app.StartAsync();
    }

    /// <summary>The same installation's people once more, in an application of its own that goes by another clock.</summary>
    public async Task<WebApplication> AlsoAsync(TimeProvider clock)
    {
        string data = Directory.CreateDirectory(Path.Combine(_folder, "also-" + Guid.NewGuid().ToString("N")[..6])).FullName;
        Services.GetRequiredService<FactsStore>().Flush();
        await using (AsyncServiceScope scope = Services.CreateAsyncScope())
        {
            var context = scope.ServiceProvider.GetRequiredService<DuneCrateContext>();
            await Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions.ExecuteSqlAsync(
                context.Database,
                $"VACUUM INTO {Path.Combine(data, "dune-crate.db")}"
            );
        }

        WebApplication also = DuneCrateApp.Build(
            ServeOptions.ForServe(data, 0, "127.0.0.1", [$"renders={Renders}"]) with
            {
                Clock = clock,
            }
        );
        await also.StartAsync();
        return also;
    }

    /// <summary>Makes an account, with a role in the first show.</summary>
    public async Task AddAsync(string account, string name, bool isKeeper, ShowRole? role)
    {
        await using AsyncServiceScope scope = Services.CreateAsyncScope();
        var users = scope.ServiceProvider.GetRequiredService<UserManager<PersonRow>>();
        var context = scope.ServiceProvider.GetRequiredService<DuneCrateContext>();
        var person = new PersonRow
        {
            UserName = account,
            Name = name,
            IsKeeper = isKeeper,
            JoinedAt = DateTime.UtcNow,
        };
        IdentityResult made = await users.CreateAsync(person, Password);
        Assert.True(made.Succeeded, string.Join(' ', made.Errors.Select(e => e.Description)));
        if (role is { } given)
        {
            context.Memberships.Add(
                new MembershipRow
                {
                    PersonId = person.Id,
                    ShowId = context.Shows.First(s => s.Code == "KELP").Id,
                    Role = given,
                }
            );
            await context.SaveChangesAsync();
        }

        Services.GetRequiredService<Access.People>().Forget();
    }

    /// <summary>A browser that nobody has signed in with; it does not follow redirects.</summary>
    public HttpClient Browser() => BrowserAt(_app);

    /// <summary>The same for another application.</summary>
    public static HttpClient BrowserAt(WebApplication app) =>
        new(new HttpClientHandler { CookieContainer = new CookieContainer(), AllowAutoRedirect = false })
        {
            BaseAddress = new Uri(app.Urls.First()),
        };

    /// <summary>A browser with a person signed in.</summary>
    public async Task<HttpClient> SignInAsync(string account, string password = Password)
    {
        HttpClient browser = Browser();
        using HttpResponseMessage answer = await PostAsync(browser, "/sign-in", "/sign-in", ("Account", account), ("password", password));
        Assert.True(answer.StatusCode == HttpStatusCode.Redirect, $"{account}: {answer.StatusCode}");
        return browser;
    }

    /// <summary>A client that acts as somebody of <c>access-matrix.txt</c>.</summary>
    public async Task<HttpClient> AsAsync(string who)
    {
        HttpClient client = who switch
        {
            "nobody" or "token" => Browser(),
            "compositor" => await SignInAsync("cosima"),
            "lighter" => await SignInAsync("lior"),
            "wrangler" => await SignInAsync("mara"),
            "keeper" or "confirmed" => await SignInAsync("keeper"),
            _ => await SignInAsync(who),
        };
        if (who == "confirmed")
        {
            (await PostAsync(client, "/confirm", "/confirm", ("password", Password))).Dispose();
        }
        else if (who == "token")
        {
            var audited = new AuditEvent("Mara Quill", HistoryKinds.People, "token farm");
            string token = await Services
                .GetRequiredService<Access.ScriptTokens>()
                .MakeAsync("KELP", "farm", audited.Who, audited, default);
            client.DefaultRequestHeaders.Authorization = new("Bearer", token);
        }

        return client;
    }

    /// <summary>What a client sends of itself, as header lines.</summary>
    public static string HeadersOf(HttpClient client)
    {
        var handler = (HttpClientHandler)
            typeof(HttpMessageInvoker)
                .GetField("_handler", System.Reflection.BindingFlags.Instance | System.Reflection.BindingFlags.NonPublic)!
                .GetValue(client)!;
        string cookies = handler.CookieContainer.GetCookieHeader(client.BaseAddress!);
        return (cookies.Length > 0 ? $"Cookie: {cookies}\r\n" : "")
            + (client.DefaultRequestHeaders.Authorization is { } bearer ? $"Authorization: {bearer}\r\n" : "");
    }

    /// <summary>The form token of a page.</summary>
    public static async Task<string> TokenAsync(HttpClient browser, string page) =>
        Token().Match(await browser.GetStringAsync(page)).Groups[1].Value;

    /// <summary>Posts a form with the token of a page.</summary>
    public static async Task<HttpResponseMessage> PostAsync(
        HttpClient browser,
        string page,
        string to,
        params (string Name, string Value)[] fields
    )
    {
        string token = await TokenAsync(browser, page);
        using var form = new FormUrlEncodedContent(
            fields.Append(("__RequestVerificationToken", token)).Select(f => KeyValuePair.Create(f.Item1, f.Item2))
        );
        return await browser.PostAsync(to, form);
    }

    /// <summary>The page as people see it.</summary>
    public static async Task<string> TextAsync(HttpResponseMessage answer) =>
        Regex.Replace(WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()), @"\s+", " ");

    /// <summary>What the history says, newest first.</summary>
    public async Task<IReadOnlyList<Foundation.History.HistoryEntry>> HistoryAsync(string? kind = null) =>
        await Services.GetRequiredService<HistoryStore>().ListAsync(new HistoryQuery(Kind: kind), 0, 100);

    public async ValueTask DisposeAsync()
    {
        await _app.StopAsync();
        await _app.DisposeAsync();
        Directory.Delete(_folder, recursive: true);
    }

    [GeneratedRegex("""name="__RequestVerificationToken" type="hidden" value="([^"]+)""")]
    private static partial Regex Token();
}

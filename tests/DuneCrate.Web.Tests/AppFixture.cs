using System.Net;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Shots;
using DuneCrate.StandIns.Renderer;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Web.Tests;

/// <summary>The application on a free port with a database and storage root of its own, and a browser-like client.</summary>
public sealed partial class AppFixture : IAsyncLifetime
{
    public const string Frames = "1001-1004";

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-web-").FullName;
    private WebApplication _app = null!;

    public HttpClient Client { get; private set; } = null!;

    public string Renders => Path.Combine(_folder, "renders");

    public string Data => Path.Combine(_folder, "data");

    public string Crates => Path.Combine(Data, "crates");

    public IServiceProvider Services => _app.Services;

    public async ValueTask InitializeAsync()
    {
        Directory.CreateDirectory(Renders);
        await StartAsync();
        await PostAsync("/new-show", "", ("Code", "KELP"), ("Name", "The Kelp Post"), ("Rate", "24"), ("Width", "64"), ("Height", "36"));
    }

    public async Task StartAsync()
    {
        _app = DuneCrateApp.Build(
            ServeOptions.ForServe(Data, 0, "127.0.0.1", [$"renders={Renders}"]).WithoutAccounts() with
            {
                HasFarm = true,
            }
        );
        await _app.StartAsync();
        Client = NewClient();
    }

    /// <summary>Another browser: cookies of its own.</summary>
    public HttpClient NewClient() =>
        new(new HttpClientHandler { CookieContainer = new CookieContainer(), AllowAutoRedirect = true })
        {
            BaseAddress = new Uri(_app.Urls.First()),
        };

    /// <summary>Sends a change as the pass sheet does; the answer's status and body.</summary>
    public Task<(HttpStatusCode Status, JsonNode Body)> EditAsync(
        string code,
        int revision,
        PlanEdit edit,
        HttpClient? by = null,
        string view = "sheet"
    ) =>
        SendAsync(
            by ?? Client,
            code,
            "edit",
            JsonSerializer.Serialize(
                new
                {
                    revision,
                    view,
                    edit,
                },
                AnyJson.Options
            )
        );

    /// <summary>Takes a step back, or makes it again.</summary>
    public Task<(HttpStatusCode Status, JsonNode Body)> StepAsync(string code, string step, HttpClient? by = null) =>
        SendAsync(by ?? Client, code, step + "?view=sheet", "{}");

    /// <summary>Sends a body to one of the addresses under a plan; the answer's status and body.</summary>
    public async Task<(HttpStatusCode Status, JsonNode Body)> SendAsync(HttpClient client, string code, string path, string body)
    {
        string token = HeaderToken().Match(WebUtility.HtmlDecode(await client.GetStringAsync($"/KELP/{code}/plan"))).Groups[1].Value;
        using var request = new HttpRequestMessage(HttpMethod.Post, $"/KELP/{code}/plan/{path}")
        {
            Content = new StringContent(body, System.Text.Encoding.UTF8, "application/json"),
        };
        request.Headers.Add("X-Form-Token", token);
        using HttpResponseMessage answer = await client.SendAsync(request);
        return (answer.StatusCode, JsonNode.Parse(await answer.Content.ReadAsStringAsync())!);
    }

    /// <summary>The plan of a shot as the pages export it.</summary>
    public async Task<Plan> PlanAsync(string code) =>
        PlanDocument.Read(await Client.GetStringAsync($"/KELP/{code}/plan?handler=Export")).Plan!;

    /// <summary>Ends the application and starts it again on the same data.</summary>
    public async Task RestartAsync()
    {
        await StopAsync();
        await StartAsync();
    }

    private async Task StopAsync()
    {
        Client.Dispose();
        await _app.StopAsync();
        await _app.DisposeAsync();
    }

    public async ValueTask DisposeAsync()
    {
        await StopAsync();
        Directory.Delete(_folder, recursive: true);
    }

    /// <summary>Gets a page as text; its status must be 200.</summary>
    public async Task<string> GetAsync(string path)
    {
        using HttpResponseMessage answer = await Client.GetAsync(path);
        string text = await TextAsync(answer);
        Assert.True(answer.StatusCode == HttpStatusCode.OK, $"{path}: {answer.StatusCode}");
        return text;
    }

    /// <summary>Posts a form as a page would, with the token of <paramref name="page"/>; follows to where it leads.</summary>
    public async Task<(string Text, Uri Address)> PostAsync(string page, string query, params (string Name, string Value)[] fields) =>
        await PostWithAsync(await TokenAsync(page), page + query, fields);

    /// <summary>The token that forms of a page carry.</summary>
    public async Task<string> TokenAsync(string page)
    {
        string token = Token().Match(await Client.GetStringAsync(page)).Groups[1].Value;
        Assert.NotEmpty(token);
        return token;
    }

    /// <summary>Posts a form with a token that is there already.</summary>
    public async Task<(string Text, Uri Address)> PostWithAsync(string token, string address, params (string Name, string Value)[] fields)
    {
        var form = new FormUrlEncodedContent(
            fields.Append(("__RequestVerificationToken", token)).Select(f => KeyValuePair.Create(f.Item1, f.Item2))
        );
        using HttpResponseMessage answer = await Client.PostAsync(address, form);
        return (await TextAsync(answer), answer.RequestMessage!.RequestUri!);
    }

    /// <summary>The text of an answer; that of a page as people see it, where a line break is a space.</summary>
    private static async Task<string> TextAsync(HttpResponseMessage answer)
    {
        string text = WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync());
        return answer.Content.Headers.ContentType?.MediaType == "text/html" ? Space().Replace(text, " ") : text;
    }

    /// <summary>Adds a shot with the stand-in's plan and renders it with faults.</summary>
    public async Task<Plan> AddShotAsync(string code, params string[] faults)
    {
        Plan plan = StandInPlan.Create(code, FrameSet.Parse(Frames), 64, 36);
        (string text, Uri address) = await PostAsync("/KELP/new-shot", "?handler=Import", ("Json", PlanDocument.Write(plan)));
        Assert.True(address.AbsolutePath == $"/KELP/{code}/plan", text);
        Disk.Render(
            plan,
            Path.Combine(Renders, code),
            null,
            [.. faults.Select(f => Fault.TryParse(f, out Fault? fault, out _) ? fault : throw new FormatException(f))]
        );
        return plan;
    }

    /// <summary>Takes a shot's folder in and waits until its check is over.</summary>
    public async Task CheckAsync(string code, string pixels = "true")
    {
        await PostAsync($"/KELP/{code}/receive", "?handler=Take", ("root", "renders"), ("folder", code), ("pixels", pixels));
        await UntilAsync($"/KELP/{code}/receive?handler=Progress", text => !text.Contains("Taking in"));
    }

    /// <summary>Asks for a page until it says what is awaited, at most a minute.</summary>
    public async Task<string> UntilAsync(string path, Func<string, bool> isReady)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromMilliseconds(50));
        string text = "";
        for (int i = 0; i < 1200; i++)
        {
            text = await GetAsync(path);
            if (isReady(text))
            {
                return text;
            }

            await timer.WaitForNextTickAsync();
        }

        throw new TimeoutException($"{path}: {Tags().Replace(text, " ")}");
    }

    public T Service<T>()
        where T : notnull => Services.GetRequiredService<T>();

    [GeneratedRegex("<[^>]*>|\\s{2,}")]
    private static partial Regex Tags();

    [GeneratedRegex(@"\s+")]
    private static partial Regex Space();

    [GeneratedRegex("""X-Form-Token":"([^"]+)""")]
    private static partial Regex HeaderToken();

    [GeneratedRegex("""name="__RequestVerificationToken" type="hidden" value="([^"]+)""")]
    private static partial Regex Token();
}

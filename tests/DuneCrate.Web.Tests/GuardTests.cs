using System.Net;
using System.Net.Sockets;
using System.Text;
using DuneCrate.Planning.Edits;

namespace DuneCrate.Web.Tests;

/// <summary>
/// What every answer carries and what no request gets past. Source: OWASP Application Security Verification Standard 4.0.3, V14.4 (security
/// headers), V14.5.3 (hosts and origins), V3.4
/// (cookies), V7.4.1 (messages that give nothing away).
/// </summary>
public class GuardTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Theory]
    [InlineData("/")]
    [InlineData("/nowhere")]
    [InlineData("/js/site.js")]
    [InlineData("/upkeep")]
    public async Task Every_answer_says_what_a_page_may_do(string path)
    {
        using HttpResponseMessage answer = await app.Client.GetAsync(path);
        string policy = Assert.Single(answer.Headers.GetValues("Content-Security-Policy"));
        foreach (
            string part in (string[])
                ["default-src 'self'", "form-action 'self'", "base-uri 'none'", "frame-ancestors 'self'", "object-src 'none'"]
        )
        {
            Assert.Contains(part, policy);
        }

        Assert.Equal("nosniff", Assert.Single(answer.Headers.GetValues("X-Content-Type-Options")));
    }

    [Theory]
    [InlineData("GET / HTTP/1.1\r\nConnection: close\r\n\r\n")]
    [InlineData("GET / HTTP/1.0\r\n\r\n")]
    [InlineData("GET / HTTP/1.1\r\nHost:\r\nConnection: close\r\n\r\n")]
    [InlineData("GET / HTTP/1.1\r\nHost: example.org\r\nConnection: close\r\n\r\n")]
    [InlineData("GET / HTTP/1.1\r\nHost: 127.0.0.1.example.org\r\nConnection: close\r\n\r\n")]
    public async Task No_host_and_a_foreign_host_are_refused(string request) => Assert.StartsWith("HTTP/1.1 400", await SendAsync(request));

    [Fact]
    public async Task This_host_is_served() =>
        Assert.StartsWith("HTTP/1.1 200", await SendAsync("GET /rules HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n"));

    [Fact]
    public async Task Events_carry_nothing_that_tells_browsers_apart()
    {
        await app.AddShotAsync("EV010");
        HttpClient other = app.NewClient();
        await other.GetStringAsync("/KELP/EV010/plan");
        using var request = new HttpRequestMessage(HttpMethod.Get, "/KELP/EV010/events");
        using HttpResponseMessage answer = await app.Client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead);
        using var reader = new StreamReader(await answer.Content.ReadAsStreamAsync());
        Task<string> heard = HearAsync(reader);
        await app.EditAsync("EV010", 0, new WriteCells([new CellText("kelp", "uv", "x")]), other);
        string text = await heard.WaitAsync(TimeSpan.FromSeconds(30));
        string session = CookieOf(other, "dune-session");
        Assert.NotEmpty(session);
        Assert.DoesNotContain(session, text);
        Assert.DoesNotMatch("[0-9a-f]{32}", text);
        Assert.False(
            answer.Headers.Contains("Set-Cookie")
                && answer.Headers.GetValues("Set-Cookie").Any(c => c.Contains(session, StringComparison.Ordinal))
        );
    }

    [Theory]
    [InlineData("/nowhere", HttpStatusCode.NotFound, "There is nothing at this address")]
    [InlineData("/KELP/NOPE/check", HttpStatusCode.NotFound, "There is nothing at this address")]
    public async Task Error_pages_are_titled_by_what_happened(string path, HttpStatusCode status, string title)
    {
        using HttpResponseMessage answer = await app.Client.GetAsync(path);
        string text = await answer.Content.ReadAsStringAsync();
        Assert.Equal(status, answer.StatusCode);
        Assert.Contains($"<title>{title}", text);
        Assert.DoesNotContain("   at ", text);
    }

    [Fact]
    public async Task A_form_without_its_token_is_refused_in_words()
    {
        using HttpResponseMessage answer = await app.Client.PostAsync("/new-show", new FormUrlEncodedContent([new("Code", "X")]));
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains("<title>The page was too old for that", await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task Every_field_for_text_has_a_length()
    {
        await app.AddShotAsync("TL010");
        foreach (
            string page in (string[])
                [
                    "/new-show",
                    "/KELP/new-shot",
                    "/KELP/settings",
                    "/upkeep",
                    "/KELP/TL010/plan",
                    "/KELP/TL010/plan/preflight",
                    "/KELP/TL010/plan/files",
                    "/KELP/TL010/receive",
                    "/KELP/TL010/crate",
                ]
        )
        {
            string text = await app.GetAsync(page);
            foreach (
                System.Text.RegularExpressions.Match field in System.Text.RegularExpressions.Regex.Matches(text, "<(input|textarea)[^>]*>")
            )
            {
                Assert.True(
                    System.Text.RegularExpressions.Regex.IsMatch(field.Value, "type=\"(?!text|search)|maxlength="),
                    $"{page}: {field.Value}"
                );
            }
        }
    }

    [Theory]
    [InlineData("by", 121, "at most 120 fit")]
    [InlineData("by", 1_000_000, "at most 120 fit")]
    public async Task What_is_too_long_all_the_same_is_refused(string field, int length, string part)
    {
        if (await app.Service<DuneCrate.Store.ShowStore>().ShotAsync("KELP", "TL020") is null)
        {
            await app.AddShotAsync("TL020");
            await app.CheckAsync("TL020");
        }

        (string text, _) = await app.PostAsync(
            "/KELP/TL020/crate",
            "?handler=Seal",
            (field, new string('x', length)),
            ("layout", "layers")
        );
        Assert.Contains(part, text);
    }

    private async Task<string> SendAsync(string request)
    {
        using var client = new TcpClient();
        await client.ConnectAsync(app.Client.BaseAddress!.Host, app.Client.BaseAddress.Port);
        await using NetworkStream stream = client.GetStream();
        await stream.WriteAsync(Encoding.ASCII.GetBytes(request));
        using var reader = new StreamReader(stream);
        return await reader.ReadToEndAsync();
    }

    private static async Task<string> HearAsync(StreamReader reader)
    {
        var text = new StringBuilder();
        while (await reader.ReadLineAsync() is { } line)
        {
            text.AppendLine(line);
            if (text.ToString().Contains("event: plan", StringComparison.Ordinal) && line.Length == 0)
            {
                break;
            }
        }

        return text.ToString();
    }

    private string CookieOf(HttpClient client, string name)
    {
        var handler = (HttpClientHandler)
            typeof(HttpMessageInvoker)
                .GetField("_handler", System.Reflection.BindingFlags.Instance | System.Reflection.BindingFlags.NonPublic)!
                .GetValue(client)!;
        return handler.CookieContainer.GetCookies(app.Client.BaseAddress!)[name]?.Value ?? "";
    }
}

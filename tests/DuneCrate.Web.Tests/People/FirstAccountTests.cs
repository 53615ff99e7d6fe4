using System.Net;
using DuneCrate.Shots;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Web.Tests.People;

/// <summary>
/// The first start. Source: OWASP Application Security Verification Standard 5.0, V6.3.2 (no default accounts or passwords).
/// </summary>
public sealed class FirstAccountTests : IAsyncLifetime
{
    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-first-").FullName;
    private WebApplication _app = null!;

    public async ValueTask InitializeAsync()
    {
        _app = DuneCrateApp.Build(ServeOptions.ForServe(_folder, 0, "127.0.0.1", []));
        await _app.StartAsync();
    }

    public async ValueTask DisposeAsync()
    {
        await _app.StopAsync();
        await _app.DisposeAsync();
        Directory.Delete(_folder, recursive: true);
    }

    private HttpClient Browser() => PeopleFixture.BrowserAt(_app);

    private static Task<HttpResponseMessage> MakeAsync(HttpClient browser, string code, string password = "limpet ferry under glass") =>
        PeopleFixture.PostAsync(
            browser,
            "/first",
            "/first",
            ("given", code),
            ("Account", "kit"),
            ("Name", "Kit Marlow"),
            ("password", password)
        );

    [Fact]
    public async Task The_code_of_the_terminal_makes_one_account_and_no_more()
    {
        using HttpClient browser = Browser();
        Assert.Equal("/first", (await browser.GetAsync("/sign-in")).Headers.Location!.ToString());
        string code = _app.Services.GetRequiredService<FirstCode>().Code;
        using HttpResponseMessage wrong = await MakeAsync(browser, "AAAA-AAAA-AAAA");
        Assert.Contains("not the code on the terminal", await PeopleFixture.TextAsync(wrong));
        using HttpResponseMessage weak = await MakeAsync(browser, code, "password12345678");
        Assert.Contains("common password", await PeopleFixture.TextAsync(weak));
        using HttpResponseMessage made = await MakeAsync(browser, code);
        Assert.Equal("/", made.Headers.Location!.ToString());
        Assert.Equal(HttpStatusCode.OK, (await browser.GetAsync("/upkeep")).StatusCode);
        Assert.Equal("/", (await Browser().GetAsync("/first")).Headers.Location!.ToString());
        Assert.StartsWith("/sign-in?to=", (await Browser().GetAsync("/")).Headers.Location!.ToString());
    }

    [Fact]
    public async Task Two_who_have_the_code_at_once_make_one_account()
    {
        string code = _app.Services.GetRequiredService<FirstCode>().Code;
        HttpResponseMessage[] answers = await Task.WhenAll(Enumerable.Range(0, 8).Select(_ => MakeAsync(Browser(), code)));
        Assert.All(answers, a => Assert.Equal(HttpStatusCode.Redirect, a.StatusCode));
        Assert.Single(
            answers,
            a => a.Headers.TryGetValues("Set-Cookie", out var set) && set.Any(c => c.StartsWith("dune-account=", StringComparison.Ordinal))
        );
    }

    [Fact]
    public void Without_accounts_only_this_machine_reaches_it()
    {
        Assert.False(ServeOptions.ForServe(_folder, 0, "127.0.0.1", []).WithoutAccounts().HasAccounts);
        Assert.False(ServeOptions.ForServe(_folder, 0, "::1", []).WithoutAccounts().HasAccounts);
        Assert.Contains(
            "bind to 127.0.0.1",
            Assert.Throws<ArgumentException>(() => ServeOptions.ForServe(_folder, 0, "0.0.0.0", []).WithoutAccounts()).Message
        );
    }
}

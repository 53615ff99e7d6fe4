using System.Net;
using System.Text.RegularExpressions;
using DuneCrate.Core.History;
using Microsoft.AspNetCore.Builder;

namespace DuneCrate.Web.Tests.People;

/// <summary>
/// Signing in and out. Source: OWASP Application Security Verification Standard 5.0, V6 (authentication) and V7 (sessions); the items are
/// named beside the tests.
/// </summary>
public sealed class SignInTests(PeopleFixture app) : IClassFixture<PeopleFixture>
{
    /// <summary>V7.2.4: a new session at sign-in. V3.3.1 to V3.3.4: what a cookie says.</summary>
    [Fact]
    public async Task The_cookie_is_strict_and_not_for_scripts()
    {
        using HttpClient browser = app.Browser();
        using HttpResponseMessage answer = await PeopleFixture.PostAsync(
            browser,
            "/sign-in",
            "/sign-in",
            ("Account", "lior"),
            ("password", PeopleFixture.Password)
        );
        string cookie = answer.Headers.GetValues("Set-Cookie").Single(c => c.StartsWith("dune-account=", StringComparison.Ordinal));
        Assert.Contains("httponly", cookie);
        Assert.Contains("samesite=strict", cookie);
    }

    /// <summary>V3.3.1: behind a proxy that says https, no cookie goes over plain connections.</summary>
    [Fact]
    public async Task Behind_tls_every_cookie_is_secure()
    {
        using HttpClient browser = app.Browser();
        browser.DefaultRequestHeaders.Add("X-Forwarded-Proto", "https");
        using HttpResponseMessage page = await browser.GetAsync("/sign-in");
        string[] cookies = [.. page.Headers.GetValues("Set-Cookie")];
        Assert.Equal(2, cookies.Length);
        Assert.All(cookies, c => Assert.Contains("; secure", c));
    }

    /// <summary>
    /// A page of somebody else whose name leads to this machine (DNS rebinding) is refused, also when it claims what a proxy would say.
    /// </summary>
    [Theory]
    [InlineData("evil.example.com", null)]
    [InlineData("evil.example.com", "localhost")]
    public async Task Another_name_is_refused_whatever_is_said_of_it(string host, string? forwarded)
    {
        using HttpClient browser = app.Browser();
        using var request = new HttpRequestMessage(HttpMethod.Get, "/sign-in");
        request.Headers.Host = host;
        request.Headers.Add("X-Forwarded-Host", forwarded ?? host);
        Assert.Equal(HttpStatusCode.BadRequest, (await browser.SendAsync(request)).StatusCode);
    }

    /// <summary>V6.3.8: the answer does not tell whether there is such an account.</summary>
    [Fact]
    public async Task A_wrong_password_and_a_wrong_account_are_told_alike()
    {
        using HttpClient browser = app.Browser();
        List<string> said = [];
        foreach (string account in (string[])["mara", "nobody-at-all"])
        {
            using HttpResponseMessage answer = await PeopleFixture.PostAsync(
                browser,
                "/sign-in",
                "/sign-in",
                ("Account", account),
                ("password", "not the right one at all")
            );
            Assert.Equal(HttpStatusCode.Forbidden, answer.StatusCode);
            said.Add(Regex.Match(await PeopleFixture.TextAsync(answer), "role=\"alert\">([^<]*)").Groups[1].Value);
        }

        Assert.Equal(said[0], said[1]);
        Assert.StartsWith("Account or password are not right", said[0]);
        Assert.Contains(await app.HistoryAsync(HistoryKinds.SignedIn), e => e.Subject == "could not sign in as mara");
    }

    /// <summary>V6.3.1: guessing is slowed down; the right password does not help while the account waits.</summary>
    [Fact]
    public async Task Ten_wrong_passwords_lock_the_account()
    {
        await app.AddAsync("wren", "Wren Sallow", isKeeper: false, null);
        using HttpClient browser = app.Browser();
        string text = "";
        for (int i = 0; i <= Stations.People.PeopleDesk.MostWrong; i++)
        {
            using HttpResponseMessage answer = await PeopleFixture.PostAsync(
                browser,
                "/sign-in",
                "/sign-in",
                ("Account", "wren"),
                ("password", i < Stations.People.PeopleDesk.MostWrong ? "wrong guess number " + i : PeopleFixture.Password)
            );
            text = await PeopleFixture.TextAsync(answer);
        }

        Assert.Contains("this account waits 10 minutes", text);
    }

    /// <summary>V7.4.1 and V7.4.3: signing out ends the session on the server, everywhere when the person wants it.</summary>
    [Fact]
    public async Task Signing_out_everywhere_ends_every_browser_at_once()
    {
        using HttpClient first = await app.SignInAsync("lior"),
            second = await app.SignInAsync("lior");
        Assert.Equal(HttpStatusCode.OK, (await second.GetAsync("/")).StatusCode);
        using HttpResponseMessage answer = await PeopleFixture.PostAsync(first, "/account", "/account?handler=Everywhere");
        Assert.Equal("/sign-in", answer.Headers.Location!.ToString());
        using HttpResponseMessage refused = await second.GetAsync("/");
        Assert.Equal(HttpStatusCode.Redirect, refused.StatusCode);
        Assert.StartsWith("/sign-in", refused.Headers.Location!.ToString());
    }

    /// <summary>V7.4.3: a changed password ends the other sessions. V6.2.3: it asks for the one that is there.</summary>
    [Fact]
    public async Task A_changed_password_ends_the_other_browsers()
    {
        await app.AddAsync("petra", "Petra Lune", isKeeper: false, null);
        using HttpClient here = await app.SignInAsync("petra"),
            there = await app.SignInAsync("petra");
        using HttpResponseMessage wrong = await PeopleFixture.PostAsync(
            here,
            "/account",
            "/account?handler=Password",
            ("now", "not the right one at all"),
            ("password", "seven quiet gannets")
        );
        Assert.Contains("is not right", await PeopleFixture.TextAsync(wrong));
        using HttpResponseMessage done = await PeopleFixture.PostAsync(
            here,
            "/account",
            "/account?handler=Password",
            ("now", PeopleFixture.Password),
            ("password", "seven quiet gannets")
        );
        Assert.Contains("Your password is changed", await PeopleFixture.TextAsync(done));
        Assert.Equal(HttpStatusCode.OK, (await here.GetAsync("/account")).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await there.GetAsync("/account")).StatusCode);
        using HttpClient again = await app.SignInAsync("petra", "seven quiet gannets");
    }

    /// <summary>V1.2.1 and open redirects, CWE-601: signing in leads to an address of this application only.</summary>
    [Theory]
    [InlineData("/KELP/KP010/check", "/KELP/KP010/check")]
    [InlineData("https://example.com/", "/")]
    [InlineData("//example.com/", "/")]
    [InlineData("/\\example.com", "/")]
    public async Task It_leads_on_only_within_the_application(string to, string place)
    {
        using HttpClient browser = app.Browser();
        using HttpResponseMessage answer = await PeopleFixture.PostAsync(
            browser,
            "/sign-in",
            "/sign-in",
            ("Account", "mara"),
            ("password", PeopleFixture.Password),
            ("to", to)
        );
        Assert.Equal(place, answer.Headers.Location!.ToString());
    }

    /// <summary>A link sets a password once; the keeper who makes it has to give theirs again first (V7.5.3).</summary>
    [Fact]
    public async Task Somebody_new_comes_in_by_a_link_that_works_once()
    {
        using HttpClient keeper = await app.SignInAsync("keeper");
        using HttpResponseMessage asked = await PeopleFixture.PostAsync(
            keeper,
            "/people",
            "/people?handler=Add",
            ("Account", "iris"),
            ("Name", "Iris Holm")
        );
        Assert.StartsWith("/confirm?to=", asked.Headers.Location!.ToString());
        using HttpResponseMessage confirmed = await PeopleFixture.PostAsync(
            keeper,
            "/confirm",
            "/confirm",
            ("password", PeopleFixture.Password)
        );
        Assert.Equal("/people", confirmed.Headers.Location!.ToString());
        using HttpResponseMessage made = await PeopleFixture.PostAsync(
            keeper,
            "/people",
            "/people?handler=Add",
            ("Account", "iris"),
            ("Name", "Iris Holm")
        );
        string link = Regex.Match(await PeopleFixture.TextAsync(made), "http://[^\"]*/welcome[^\"]*").Value;
        Assert.NotEmpty(link);
        string code = Regex.Match(link, "code=(.*)$").Groups[1].Value,
            person = Regex.Match(link, "person=([0-9]*)").Groups[1].Value;
        (string, string)[] Fields(string password) => [("Person", person), ("Code", Uri.UnescapeDataString(code)), ("password", password)];
        using HttpClient iris = app.Browser();
        string page = new Uri(link).PathAndQuery;
        using HttpResponseMessage weak = await PeopleFixture.PostAsync(iris, page, "/welcome", Fields("password12345678"));
        Assert.Contains("common password", await PeopleFixture.TextAsync(weak));
        using HttpResponseMessage set = await PeopleFixture.PostAsync(iris, page, "/welcome", Fields("nine slow otters swim"));
        Assert.Equal(HttpStatusCode.Redirect, set.StatusCode);
        using HttpResponseMessage again = await PeopleFixture.PostAsync(app.Browser(), page, "/welcome", Fields("ten slow otters swim"));
        Assert.Contains("used already", await PeopleFixture.TextAsync(again));
        Assert.Contains("Whoever looks after the installation gives you a role", await PeopleFixture.TextAsync(await iris.GetAsync("/")));
    }

    /// <summary>The last keeper cannot lock everybody out.</summary>
    [Fact]
    public async Task The_last_keeper_stays()
    {
        using HttpClient keeper = await app.SignInAsync("keeper");
        (await PeopleFixture.PostAsync(keeper, "/confirm", "/confirm", ("password", PeopleFixture.Password))).Dispose();
        string id = Regex
            .Match(
                await keeper.GetStringAsync("/people"),
                "data-person=\"keeper\".*?name=\"id\"\\s+value=\"([0-9]+)\"",
                RegexOptions.Singleline
            )
            .Groups[1]
            .Value;
        using HttpResponseMessage closed = await PeopleFixture.PostAsync(keeper, "/people", "/people?handler=Close", ("id", id));
        Assert.Contains("Somebody must look after the installation", await PeopleFixture.TextAsync(closed));
        Assert.Equal(HttpStatusCode.OK, (await keeper.GetAsync("/people")).StatusCode);
    }

    /// <summary>V6.3.1: tries from one address are bounded, whatever accounts they name.</summary>
    [Fact]
    public async Task Too_many_tries_from_one_address_wait()
    {
        await using WebApplication other = DuneCrateApp.Build(
            ServeOptions.ForServe(Directory.CreateTempSubdirectory("dune-crate-tries-").FullName, 0, "127.0.0.1", [])
        );
        await other.StartAsync();
        using var browser = new HttpClient { BaseAddress = new Uri(other.Urls.First()) };
        HttpStatusCode[] answers = await Task.WhenAll(
            Enumerable.Range(0, 150).Select(async i => (await browser.PostAsync("/sign-in", new StringContent(""))).StatusCode)
        );
        Assert.Contains(HttpStatusCode.TooManyRequests, answers);
    }
}

using System.Net;
using System.Security.Claims;
using System.Text.RegularExpressions;
using DuneCrate.Foundation.History;
using DuneCrate.Shots;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

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

    /// <summary>V7.4.1: signing out ends the session on the server: a copy of the cookie holds no more, here and after a start.</summary>
    [Fact]
    public async Task A_copy_of_a_cookie_ends_with_its_session()
    {
        using HttpClient browser = await app.SignInAsync("mara");
        string copy = PeopleFixture.HeadersOf(browser);
        Assert.Equal(HttpStatusCode.OK, (await RawHttp.SendAsync(browser.BaseAddress!, "GET", "/account", copy)).Status);
        (await PeopleFixture.PostAsync(browser, "/account", "/sign-in?handler=Out")).Dispose();
        (HttpStatusCode status, string head, _) = await RawHttp.SendAsync(browser.BaseAddress!, "GET", "/account", copy);
        Assert.Equal(HttpStatusCode.Redirect, status);
        Assert.Contains("Location: /sign-in", head);
        using HttpClient still = await app.SignInAsync("mara");
        Assert.Equal(HttpStatusCode.OK, (await still.GetAsync("/account")).StatusCode);
        Sessions again = new(
            app.Services.GetRequiredService<Microsoft.EntityFrameworkCore.IDbContextFactory<DuneCrate.Store.DuneCrateContext>>(),
            TimeProvider.System
        );
        Assert.False(await again.HoldsAsync(new ClaimsPrincipal(new ClaimsIdentity()), default));
    }

    /// <summary>V8.3.2: what is streamed ends within five seconds of a sign-out or a lost role.</summary>
    [Theory]
    [InlineData("sign out")]
    [InlineData("lose the role")]
    [InlineData("close the account")]
    public async Task Streams_end_with_the_right_to_them(string how)
    {
        string account = "drift" + how.Length;
        await app.AddAsync(account, "Drift " + how, isKeeper: false, DuneCrate.Store.Rows.ShowRole.Compositor);
        using HttpClient browser = await app.SignInAsync(account);
        using HttpResponseMessage events = await browser.GetAsync("/KELP/KP010/events", HttpCompletionOption.ResponseHeadersRead);
        Assert.Equal(HttpStatusCode.OK, events.StatusCode);
        Task<string> reading = events.Content.ReadAsStringAsync();
        await using (AsyncServiceScope scope = app.Services.CreateAsyncScope())
        {
            var context = scope.ServiceProvider.GetRequiredService<DuneCrate.Store.DuneCrateContext>();
            var person = context.Users.First(u => u.UserName == account);
            if (how == "sign out")
            {
                (await PeopleFixture.PostAsync(browser, "/account", "/sign-in?handler=Out")).Dispose();
            }
            else if (how == "lose the role")
            {
                context.Memberships.RemoveRange(context.Memberships.Where(m => m.PersonId == person.Id));
                await context.SaveChangesAsync();
            }
            else
            {
                person.ClosedAt = DateTime.UtcNow;
                await context.SaveChangesAsync();
            }
        }

        app.Services.GetRequiredService<Access.People>().Forget();
        await Assert.ThrowsAnyAsync<Exception>(() => reading).WaitAsync(TimeSpan.FromSeconds(5));
    }

    /// <summary>V14.3.2 and RFC 9111: nothing behind a sign-in is kept by anybody in between.</summary>
    [Fact]
    public async Task What_is_behind_a_sign_in_is_kept_by_no_cache()
    {
        using HttpClient browser = await app.AsAsync("confirmed");
        List<string> wrong = [];
        foreach (
            (_, string pattern, IReadOnlySet<string> who) in AccessMatrix.Lines.Where(l =>
                l.Method == "GET" && !l.Who.Contains("nobody") && l.Who.Contains("confirmed")
            )
        )
        {
            string path = AccessMatrix.Fill(pattern);
            using HttpResponseMessage answer = await browser.GetAsync(path, HttpCompletionOption.ResponseHeadersRead);
            string? cache = answer.Headers.CacheControl?.ToString();
            if (
                answer.Content.Headers.LastModified is not null
                || !(cache is "no-store, private" || (cache == "no-cache, private" && answer.Headers.ETag is not null))
            )
            {
                wrong.Add($"{path}: {cache}");
            }
        }

        Assert.Empty(wrong);
        using HttpResponseMessage own = await browser.GetAsync("/js/site.js");
        Assert.Equal("public, max-age=600", own.Headers.CacheControl!.ToString());
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
        string[] spellings = ["/sign-in", "/Sign-In", "/sign-in/", "/sign-in?handler=", "/sign-in?handler=x", "/SIGN-IN?HANDLER=Passkey"];
        HttpStatusCode[] answers = await Task.WhenAll(
            Enumerable
                .Range(0, 150)
                .Select(async i => (await browser.PostAsync(spellings[i % spellings.Length], new StringContent(""))).StatusCode)
        );
        Assert.Contains(HttpStatusCode.TooManyRequests, answers);
    }
}

using System.Net;
using System.Security.Claims;
using System.Text.RegularExpressions;
using DuneCrate.Core.History;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Time.Testing;

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

    /// <summary>V6.3.1: guessing is slowed down, with the same words for an account that is there and one that is not; nobody is locked
    /// out: whoever has waited gets a try.</summary>
    [Fact]
    public async Task Wrong_passwords_have_to_be_waited_for_and_nobody_is_locked_out()
    {
        await app.AddAsync("wren", "Wren Sallow", isKeeper: false, null);
        var clock = new FakeTimeProvider(DateTimeOffset.UtcNow);
        await using WebApplication other = await app.AlsoAsync(clock);
        List<string> said = [];
        foreach (string account in (string[])["wren", "nobody-at-all"])
        {
            using HttpClient stranger = PeopleFixture.BrowserAt(other);
            string text = "";
            for (int i = 0; i <= GuessPatience.FreeHere; i++)
            {
                using HttpResponseMessage answer = await TryAsync(stranger, account, "wrong guess number " + i);
                text = await PeopleFixture.TextAsync(answer);
            }

            said.Add(Regex.Match(text, "role=\"alert\">([^<]*)").Groups[1].Value);
            if (account != "wren")
            {
                continue;
            }

            // At once the right one does not help either, nor in another browser; after the wait it does, with the ticket of the page.
            string ticket = TicketOf(text);
            using HttpResponseMessage early = await TryAsync(stranger, account, PeopleFixture.Password, ticket);
            Assert.Equal(HttpStatusCode.Forbidden, early.StatusCode);
            clock.Advance(TimeSpan.FromSeconds(11));
            using HttpResponseMessage without = await TryAsync(stranger, account, PeopleFixture.Password);
            Assert.Equal(HttpStatusCode.Forbidden, without.StatusCode);
            using HttpResponseMessage wrong = await TryAsync(stranger, account, "wrong once more, alas", ticket);
            Assert.Contains("Account or password are not right", await PeopleFixture.TextAsync(wrong));
            using HttpResponseMessage again = await TryAsync(stranger, account, PeopleFixture.Password, ticket);
            Assert.Contains("Too many wrong passwords", await PeopleFixture.TextAsync(again));
            string next = TicketOf(await PeopleFixture.TextAsync(again));
            clock.Advance(TimeSpan.FromMinutes(1));
            using HttpResponseMessage patient = await TryAsync(stranger, account, PeopleFixture.Password, next);
            Assert.Equal(HttpStatusCode.Redirect, patient.StatusCode);
        }

        Assert.StartsWith("Too many wrong passwords. Wait 10 seconds", said[0]);
        Assert.Equal(said[0], said[1]);
    }

    /// <summary>A browser that its person signed in with before is not slowed down by strangers (device cookies), be they at the same
    /// address.</summary>
    [Fact]
    public async Task Strangers_do_not_slow_down_whoever_was_here_before()
    {
        await app.AddAsync("tamsin", "Tamsin Reed", isKeeper: false, null);
        using HttpClient own = await app.SignInAsync("tamsin");
        (await PeopleFixture.PostAsync(own, "/account", "/sign-in?handler=Out")).Dispose();
        using HttpClient stranger = app.Browser();
        for (int i = 0; i < 3 * GuessPatience.FreeHere; i++)
        {
            (await TryAsync(stranger, "tamsin", "wrong guess number " + i)).Dispose();
        }

        using HttpResponseMessage refused = await TryAsync(stranger, "tamsin", PeopleFixture.Password);
        Assert.Equal(HttpStatusCode.Forbidden, refused.StatusCode);
        using HttpResponseMessage back = await TryAsync(own, "tamsin", PeopleFixture.Password);
        Assert.Equal(HttpStatusCode.Redirect, back.StatusCode);
    }

    /// <summary>However many tickets somebody takes for an account, tries come once a second at most.</summary>
    [Fact]
    public void Tickets_do_not_multiply_tries()
    {
        var clock = new FakeTimeProvider(DateTimeOffset.UtcNow);
        var patience = new GuessPatience(clock, new EphemeralDataProtectionProvider());
        var guess = new Guess("account X", "10.0.0.1", null, null);
        for (int i = 0; i < GuessPatience.FreeHere; i++)
        {
            Assert.Null(patience.Ask(guess));
            patience.Failed(guess);
        }

        string[] tickets = [.. Enumerable.Range(0, 40).Select(_ => patience.Ask(guess)!.Value.Ticket)];
        clock.Advance(TimeSpan.FromSeconds(29));
        Assert.Equal(20, tickets.Count(t => patience.Ask(guess with { Ticket = t }) is null));
        Assert.NotNull(patience.Ask(guess with { Ticket = tickets[0] }));

        // A day forwards or backwards locks nobody out.
        clock.Advance(TimeSpan.FromDays(1));
        Assert.Null(patience.Ask(guess));
    }

    /// <summary>Guessing from many addresses has an end, too.</summary>
    [Fact]
    public void Many_addresses_together_have_to_wait()
    {
        var patience = new GuessPatience(new FakeTimeProvider(DateTimeOffset.UtcNow), new EphemeralDataProtectionProvider());
        for (int i = 0; i < GuessPatience.FreeAltogether; i++)
        {
            var guess = new Guess("account X", $"10.0.0.{i}", null, null);
            Assert.Null(patience.Ask(guess));
            patience.Failed(guess);
        }

        Assert.NotNull(patience.Ask(new Guess("account X", "10.0.1.1", null, null)));
        Assert.Null(patience.Ask(new Guess("account Y", "10.0.1.1", null, null)));
        Assert.Null(patience.Ask(new Guess("account X", "10.0.1.1", "a browser of its person", null)));
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

    /// <summary>Forty strangers who try passwords take few cores, and pages go on.</summary>
    [Fact]
    public async Task Passwords_are_hashed_a_few_at_a_time()
    {
        using var turns = new PasswordTurns();
        IDisposable here = await turns.TakeAsync("10.0.0.1", default);
        Task<IDisposable> second = turns.TakeAsync("10.0.0.1", default);
        Assert.False(second.IsCompleted);
        Task<IDisposable>[] others = [.. Enumerable.Range(2, 40).Select(i => turns.TakeAsync($"10.0.0.{i}", default))];
        Assert.InRange(others.Count(o => o.IsCompletedSuccessfully), 0, Environment.ProcessorCount / 2);
        List<Task<IDisposable>> queue = [.. Enumerable.Range(0, 20).Select(_ => turns.TakeAsync("10.0.0.1", default))];
        Assert.Contains(queue, q => q.IsFaulted && q.Exception!.InnerException is TooBusyException);
        here.Dispose();
        await Task.WhenAll(
                others.Append(second).Concat(queue.Where(q => !q.IsFaulted)).Select(async turn => (await turn).Dispose())
            )
            .WaitAsync(TimeSpan.FromSeconds(30));
    }

    private static Task<HttpResponseMessage> TryAsync(HttpClient browser, string account, string password, string? ticket = null) =>
        PeopleFixture.PostAsync(browser, "/sign-in", "/sign-in", ("Account", account), ("password", password), ("ticket", ticket ?? ""));

    private static string TicketOf(string text) => Regex.Match(text, "name=\"ticket\" value=\"([^\"]+)\"").Groups[1].Value;

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
            Enumerable.Range(0, 150).Select(async i => (await browser.PostAsync(spellings[i % spellings.Length], new StringContent(""))).StatusCode)
        );
        Assert.Contains(HttpStatusCode.TooManyRequests, answers);
    }
}

using System.Net;
using System.Text.RegularExpressions;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.Extensions.Time.Testing;

namespace DuneCrate.Web.Tests.People;

/// <summary>
/// Guessing is slowed down, and nobody is locked out by it. Sources: OWASP Application Security Verification Standard 5.0, V6.3; OWASP,
/// <em>Slow Down Online Guessing Attacks with Device Cookies</em>.
/// </summary>
public sealed class GuessingTests(PeopleFixture app) : IClassFixture<PeopleFixture>
{
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
        List<Task<IDisposable>> queue = [.. Enumerable.Range(0, 50).Select(_ => turns.TakeAsync("10.0.0.1", default))];
        Assert.DoesNotContain(queue[..25], q => q.IsFaulted);
        Assert.Contains(queue, q => q.IsFaulted && q.Exception!.InnerException is TooBusyException);
        here.Dispose();
        await Task.WhenAll(others.Append(second).Concat(queue.Where(q => !q.IsFaulted)).Select(async turn => (await turn).Dispose()))
            .WaitAsync(TimeSpan.FromSeconds(30));
    }

    private static Task<HttpResponseMessage> TryAsync(HttpClient browser, string account, string password, string? ticket = null) =>
        PeopleFixture.PostAsync(browser, "/sign-in", "/sign-in", ("Account", account), ("password", password), ("ticket", ticket ?? ""));

    private static string TicketOf(string text) => Regex.Match(text, "name=\"ticket\" value=\"([^\"]+)\"").Groups[1].Value;
}

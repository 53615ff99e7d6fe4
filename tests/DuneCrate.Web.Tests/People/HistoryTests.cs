using System.IO.Compression;
using System.Net;
using System.Text.Json;
using System.Text.RegularExpressions;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Shots.Crating;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Time.Testing;

namespace DuneCrate.Web.Tests.People;

/// <summary>What people do stands in the history under their own names, and a crate goes out by a link that is counted.</summary>
public sealed class HistoryTests(PeopleFixture app) : IClassFixture<PeopleFixture>
{
    private async Task<string> UntilAsync(HttpClient browser, string path, Func<string, bool> isReady)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromMilliseconds(100));
        for (int i = 0; i < 600; i++)
        {
            string text = WebUtility.HtmlDecode(await browser.GetStringAsync(path));
            if (isReady(text))
            {
                return text;
            }

            await timer.WaitForNextTickAsync();
        }

        throw new TimeoutException(path);
    }

    [Fact]
    public async Task An_account_that_the_history_refuses_is_not_made_and_a_password_not_changed()
    {
        async Task<IdentityResult> DoAsync(Func<UserManager<PersonRow>, Task<IdentityResult>> change)
        {
            await using AsyncServiceScope scope = app.Services.CreateAsyncScope();
            UserManager<PersonRow> users = scope.ServiceProvider.GetRequiredService<UserManager<PersonRow>>();
            var audited = new AuditEvent("Mara Quill", HistoryKinds.People, "an account");
            return await scope.ServiceProvider.GetRequiredService<PeopleStore>().ChangeAsync(() => change(users), audited);
        }

        Task<IdentityResult> MakeAsync() =>
            DoAsync(u => u.CreateAsync(new PersonRow { UserName = "tern", Name = "Tern Holt" }, PeopleFixture.Password));
        async Task<bool> KnowsAsync(string password)
        {
            await using AsyncServiceScope scope = app.Services.CreateAsyncScope();
            UserManager<PersonRow> users = scope.ServiceProvider.GetRequiredService<UserManager<PersonRow>>();
            return await users.FindByNameAsync("tern") is { } person && await users.CheckPasswordAsync(person, password);
        }

        const string Next = "barnacle choir at noon";
        Task<IdentityResult> ChangeAsync() =>
            DoAsync(async u => await u.ChangePasswordAsync((await u.FindByNameAsync("tern"))!, PeopleFixture.Password, Next));
        await using DuneCrateContext context = await app
            .Services.GetRequiredService<IDbContextFactory<DuneCrateContext>>()
            .CreateDbContextAsync();
        async Task RefusedAsync(Func<Task<IdentityResult>> change)
        {
            await context.Database.ExecuteSqlRawAsync(
                "CREATE TRIGGER refused BEFORE INSERT ON history BEGIN SELECT RAISE(ABORT, 'refused'); END"
            );
            try
            {
                await Assert.ThrowsAnyAsync<DbUpdateException>(change);
            }
            finally
            {
                await context.Database.ExecuteSqlRawAsync("DROP TRIGGER refused");
            }
        }

        await RefusedAsync(MakeAsync);
        Assert.False(await KnowsAsync(PeopleFixture.Password));
        Assert.True((await MakeAsync()).Succeeded);
        await RefusedAsync(ChangeAsync);
        Assert.True(await KnowsAsync(PeopleFixture.Password));
        Assert.True((await ChangeAsync()).Succeeded);
        Assert.True(await KnowsAsync(Next));
    }

    /// <summary>
    /// A crate is sealed by whoever is signed in, whatever the form says; it goes to a guest by a link, which is counted and taken back.
    /// </summary>
    [Fact]
    public async Task A_crate_is_sealed_signed_and_handed_under_ones_own_name()
    {
        using HttpClient mara = await app.SignInAsync("mara");
        (
            await PeopleFixture.PostAsync(
                mara,
                "/KELP/KP010/receive",
                "/KELP/KP010/receive?handler=Take",
                ("root", "renders"),
                ("folder", "KP010"),
                ("pixels", "true")
            )
        ).Dispose();
        await UntilAsync(mara, "/KELP/KP010/receive?handler=Progress", t => !t.Contains("Taking in", StringComparison.Ordinal));
        (await PeopleFixture.PostAsync(mara, "/KELP/KP010/crate", "/KELP/KP010/crate?handler=Seal", ("by", "Somebody else"))).Dispose();
        string page = await UntilAsync(mara, "/KELP/KP010/crate", t => t.Contains("Whole, read back", StringComparison.Ordinal));
        Assert.Contains("by Mara Quill", page);
        string id = Regex.Match(page, "handler=Zip&id=([0-9]+)").Groups[1].Value;
        using HttpResponseMessage made = await PeopleFixture.PostAsync(
            mara,
            "/KELP/KP010/crate",
            "/KELP/KP010/crate?handler=Link",
            ("id", id),
            ("whom", "Tide Room"),
            ("days", "7")
        );
        string link = new Uri(Regex.Match(await PeopleFixture.TextAsync(made), "http://[^\"]*/guest/[^\"]+").Value).PathAndQuery;

        using HttpClient guest = app.Browser();
        string shown = await PeopleFixture.TextAsync(await guest.GetAsync(link));
        Assert.Contains("For Tide Room, from Mara Quill", shown);
        await using var zip = new ZipArchive(await guest.GetStreamAsync(link + "?handler=Zip"));
        using var manifest = new StreamReader(zip.Entries.Single(e => e.Name == "crate.json").Open());
        JsonElement crate = JsonDocument.Parse(await manifest.ReadToEndAsync()).RootElement;
        Assert.Equal("Mara Quill", crate.GetProperty("sealedBy").GetString());
        Assert.Contains(zip.Entries, e => e.Name == "crate.json.sig");
        Assert.Contains("Sealed", await guest.GetStringAsync(link + "?handler=Slip"));
        Assert.Contains("used 2 times", await PeopleFixture.TextAsync(await mara.GetAsync("/KELP/KP010/crate")));
        Assert.Equal(HttpStatusCode.NotFound, (await guest.GetAsync("/guest/not-the-word")).StatusCode);

        string database = Path.Combine(app.Data, "dune-crate.db"),
            row = Tool.Run("sqlite3", database, "SELECT Id FROM guest_links ORDER BY Id DESC LIMIT 1").Trim();
        (await PeopleFixture.PostAsync(mara, "/KELP/KP010/crate", "/KELP/KP010/crate?handler=Unlink", ("link", row))).Dispose();
        Assert.Equal(HttpStatusCode.NotFound, (await guest.GetAsync(link)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await guest.GetAsync(link + "?handler=Zip")).StatusCode);

        IReadOnlyList<HistoryEntry> history = await app.HistoryAsync();
        Assert.Contains(history, e => e is { Kind: HistoryKinds.Sealed, Who: "Mara Quill", Subject: "KP010_crate_v001" });
        Assert.Contains(history, e => e is { Kind: HistoryKinds.Handed, Who: "Tide Room by link" });
        Assert.Contains(history, e => e is { Kind: HistoryKinds.People, Before: "valid", After: "taken back" });
    }

    [Fact]
    public async Task A_link_that_has_ended_leads_nowhere()
    {
        var clock = new FakeTimeProvider(DateTimeOffset.UtcNow);
        GuestLinks links = ActivatorUtilities.CreateInstance<GuestLinks>(app.Services, clock);
        var store = app.Services.GetRequiredService<ShowStore>();
        CrateStore crateStore = app.Services.GetRequiredService<CrateStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "KP010"))!;
        CrateRow crate = await crateStore.AddCrateAsync(shot.Id, "by-layer", "Mara Quill");
        string word = await links.MakeAsync(
            crate,
            "Tide Room",
            7,
            "Mara Quill",
            new AuditEvent("Mara Quill", HistoryKinds.People, "link"),
            default
        );
        Assert.Null(await links.FindAsync(word, default));
        await crateStore.ChangeCrateAsync(crate.Id, c => c.State = JobState.Done);
        clock.Advance(TimeSpan.FromDays(7) - TimeSpan.FromMinutes(1));
        Assert.NotNull(await links.FindAsync(word, default));
        clock.Advance(TimeSpan.FromMinutes(2));
        Assert.Null(await links.FindAsync(word, default));
        await crateStore.ChangeCrateAsync(crate.Id, c => c.State = JobState.Failed);
    }

    [Fact]
    public async Task It_is_filtered_and_exported_as_a_chain_that_holds()
    {
        var history = app.Services.GetRequiredService<HistoryStore>();
        for (int i = 0; i < 120; i++)
        {
            await history.AddAsync(
                new AuditEvent(i % 2 == 0 ? "Lior Fenn" : "Mara Quill", HistoryKinds.Planned, $"step {i}", "KELP", "KP050")
            );
        }

        using HttpClient mara = await app.SignInAsync("mara"),
            keeper = await app.SignInAsync("keeper");
        string own = await PeopleFixture.TextAsync(await mara.GetAsync("/KELP/history?of=KP050&who=Lior+Fenn&kind=planned"));
        Assert.Contains("step 118", own);
        Assert.DoesNotContain("step 119", own);
        Assert.Contains("Nothing here", await PeopleFixture.TextAsync(await mara.GetAsync("/KELP/history?day=2001-01-01")));
        Assert.Contains("Older ones", await PeopleFixture.TextAsync(await mara.GetAsync("/KELP/history")));
        HistoryEntry[] all =
        [
            .. (await keeper.GetStringAsync("/history?handler=Lines"))
                .Split('\n', StringSplitOptions.RemoveEmptyEntries)
                .Select(l => JsonSerializer.Deserialize<HistoryEntry>(l, AnyJson.Compact)!),
        ];
        Assert.True(all.Length > 120);
        Assert.Null(HistoryChain.Problem(all));
        Assert.Equal(HttpStatusCode.Forbidden, (await mara.GetAsync("/history")).StatusCode);
    }
}

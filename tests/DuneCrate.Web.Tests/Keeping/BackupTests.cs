using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.History;
using DuneCrate.Shots;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using DuneCrate.Store.Rows;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Web.Tests.Keeping;

/// <summary>
/// An installation is kept and comes back whole. The backup is opened by <c>sqlite3</c>; what it lists of the other files is held against
/// <c>sha256sum</c>. Source: SQLite, "SQLite Archive Files".
/// </summary>
public sealed class BackupTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-keep-").FullName;

    private string At(string name) => Path.Combine(_folder, name);

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static ServiceProvider Open(string data) =>
        new ServiceCollection().AddDuneCrateStore(Path.Combine(data, DataFolder.Database)).BuildServiceProvider();

    /// <summary>A data folder with a show, a history, keys and a crate; the database stays open, as in a running application.</summary>
    private async Task<ServiceProvider> InstallAsync(int deeds = 3)
    {
        Directory.CreateDirectory(At("data/crates/KELP/KP010"));
        Directory.CreateDirectory(At("data/proxies/ab"));
        using (DataFolder held = DataFolder.Take(At("data")))
        {
            InstallationKeys.Take(held);
        }

        File.WriteAllBytes(At("data/crates/KELP/KP010/a.exr"), [.. Enumerable.Range(0, 5000).Select(i => (byte)i)]);
        File.WriteAllText(At("data/proxies/ab/c.png"), "made anew");
        ServiceProvider services = Open(At("data"));
        await services.GetRequiredService<ShowStore>().AddShowAsync(new ShowRow { Code = "KELP", Name = "The Kelp Post" });
        for (int i = 0; i < deeds; i++)
        {
            await services
                .GetRequiredService<HistoryStore>()
                .AddAsync(new AuditEvent("Mara Quill", HistoryKinds.Checked, $"check {i}", "KELP"));
        }

        return services;
    }

    [Fact]
    public async Task What_is_kept_while_it_is_open_comes_back_whole()
    {
        await using ServiceProvider running = await InstallAsync();
        BackupContents made = Backup.Make(At("data"), At("kept.backup"));
        Assert.Equal((2, 0), (made.Files, made.LeftOut.Count));
        Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(made.File));
        Assert.Equal("ok", Tool.Run("sqlite3", made.File, "PRAGMA integrity_check").Trim());
        Assert.Equal("The Kelp Post", Tool.Run("sqlite3", made.File, "SELECT Name FROM shows").Trim());
        Assert.Contains("crates/KELP/KP010/a.exr", Tool.Run("sqlite3", made.File, ".archive --list"));
        Directory.CreateDirectory(At("out"));
        Tool.Run("sqlite3", made.File, $".archive --extract --directory {At("out")}");
        Assert.Equal(
            Tool.Run("sh", "-c", $"cd {At("data")} && sha256sum crates/KELP/KP010/a.exr keys/*"),
            Tool.Run("sh", "-c", $"cd {At("out")} && sha256sum crates/KELP/KP010/a.exr keys/*")
        );

        Assert.Equal(3, Backup.Restore(made.File, At("back"))); // The signed end of the history comes with it.
        await using ServiceProvider back = Open(At("back"));
        Assert.Equal("KELP", Assert.Single(await back.GetRequiredService<ShowStore>().ShowsAsync()).Code);
        Assert.Equal(3, (await back.GetRequiredService<HistoryStore>().ListAsync(new HistoryQuery(), 0, 10)).Count);
        Assert.Equal(
            "",
            Tool.Run("sqlite3", Path.Combine(At("back"), DataFolder.Database), "SELECT name FROM sqlite_master WHERE name = 'sqlar'")
        );
        Assert.False(Directory.Exists(At("back/proxies")));
        Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(At($"back/keys/{InstallationKeys.PrivateFile}")));
    }

    [Fact]
    public async Task A_backup_that_is_made_while_people_write_holds()
    {
        await using ServiceProvider running = await InstallAsync();
        var history = running.GetRequiredService<HistoryStore>();
        using var stop = new CancellationTokenSource();
        Directory.CreateDirectory(At("data/logs"));
        Task writing = Task.Run(async () =>
        {
            await using var log = new FileStream(At("data/logs/access.txt"), FileMode.Append, FileAccess.Write, FileShare.Read);
            for (int i = 0; !stop.IsCancellationRequested; i++)
            {
                await log.WriteAsync(new byte[100_000]);
                await log.FlushAsync();
                await history.AddAsync(new AuditEvent("Ben Quill", HistoryKinds.Planned, $"change {i}"));
            }
        });
        for (int i = 0; i < 5; i++)
        {
            Backup.Make(At("data"), At($"{i}.backup"));
            Backup.Restore(At($"{i}.backup"), At($"back{i}"));
            Assert.DoesNotContain(
                new Doctor(At($"back{i}"), new Dictionary<string, string>(), TimeProvider.System).Examine(),
                l => l.State == DoctorState.Wrong
            );
        }

        await stop.CancelAsync();
        await writing;
    }

    [Fact]
    public async Task A_backup_waits_for_whoever_holds_the_database()
    {
        await using (ServiceProvider installed = await InstallAsync()) { }
        SqliteConnection.ClearAllPools();
        var holder = new SqliteConnection($"Data Source={At($"data/{DataFolder.Database}")};Pooling=False");
        holder.Open();
        using (SqliteCommand hold = holder.CreateCommand())
        {
            hold.CommandText = "PRAGMA locking_mode=EXCLUSIVE; BEGIN IMMEDIATE; UPDATE shows SET code = code; COMMIT";
            hold.ExecuteNonQuery();
        }

        bool hasLetGo = false;
        Task letsGo = Task.Run(async () =>
        {
            await Task.Delay(400);
            Volatile.Write(ref hasLetGo, true);
            await holder.DisposeAsync();
        });
        Backup.Make(At("data"), At("held.backup"));
        Assert.True(Volatile.Read(ref hasLetGo));
        await letsGo;
    }

    [Fact]
    public async Task Nothing_is_written_over_and_no_half_installation_is_left()
    {
        await using ServiceProvider running = await InstallAsync();
        Backup.Make(At("data"), At("kept.backup"));
        Assert.Contains("is there already", Assert.Throws<StoreException>(() => Backup.Make(At("data"), At("kept.backup"))).Message);
        Assert.Contains("is not empty", Assert.Throws<StoreException>(() => Backup.Restore(At("kept.backup"), At("data"))).Message);
        Assert.Contains("is no data folder", Assert.Throws<StoreException>(() => Backup.Make(At("none"), At("b"))).Message);
        Assert.False(File.Exists(At("b")));

        byte[] bytes = File.ReadAllBytes(At("kept.backup"));
        Random random = new(7);
        foreach (int length in (int[])[0, 100, 5000, bytes.Length / 2, bytes.Length - 4096])
        {
            File.WriteAllBytes(At("cut.backup"), bytes[..length]);
            Assert.Throws<StoreException>(() => Backup.Restore(At("cut.backup"), At("new")));
            Assert.Empty(Directory.Exists(At("new")) ? Directory.EnumerateFiles(At("new"), "dune-crate.db*") : []);
        }

        for (int i = 0; i < 5; i++)
        {
            byte[] torn = [.. bytes];
            random.NextBytes(torn.AsSpan(random.Next(1, bytes.Length / 4096) * 4096, 2048));
            File.WriteAllBytes(At("torn.backup"), torn);
            try
            {
                Backup.Restore(At("torn.backup"), At($"torn{i}"));
            }
            catch (StoreException e)
            {
                Assert.Contains("damaged", e.Message);
            }
        }
    }

    [Fact]
    public void A_file_that_leads_out_of_the_folder_is_refused()
    {
        Tool.Run(
            "sqlite3",
            At("evil.backup"),
            "CREATE TABLE shows(Id INT); CREATE TABLE sqlar(name TEXT PRIMARY KEY, mode INT, mtime INT, sz INT, data BLOB); "
                + "INSERT INTO sqlar VALUES('../out', 33152, 0, 1, x'61')"
        );
        Assert.Contains(
            "outside the data folder",
            Assert.Throws<StoreException>(() => Backup.Restore(At("evil.backup"), At("new"))).Message
        );
        Assert.False(File.Exists(At("out")));
    }

    /// <summary>What a backup names is what a data folder has, and nothing else: not the database's own journal, nor a file to be
    /// run.</summary>
    [Theory]
    [InlineData("dune-crate.db-wal")]
    [InlineData("dune-crate.db")]
    [InlineData("dune-crate.lock")]
    [InlineData(".bashrc")]
    [InlineData("keysx/a")]
    [InlineData("keys/../extra")]
    public async Task A_name_that_no_data_folder_has_is_refused(string name)
    {
        await using ServiceProvider running = await InstallAsync();
        BackupContents made = Backup.Make(At("data"), At("kept.backup"));
        Tool.Run("sqlite3", made.File, $"INSERT INTO sqlar VALUES('{name}', 33188, 0, 1, 'x')");
        Assert.Contains(
            "It was not made by Dune Crate",
            Assert.Throws<StoreException>(() => Backup.Restore(made.File, At("back"))).Message
        );
        Assert.Equal(["dune-crate.lock"], Directory.GetFileSystemEntries(At("back")).Select(e => Path.GetFileName(e)!));
    }

    [Fact]
    public async Task What_is_none_of_the_application_s_stays_out_and_is_told()
    {
        await using ServiceProvider running = await InstallAsync();
        File.WriteAllText(At("data/notes.txt"), "mine");
        Assert.Equal(["notes.txt, which is none of Dune Crate's"], Backup.Make(At("data"), At("kept.backup")).LeftOut);
        Assert.DoesNotContain("notes.txt", Tool.Run("sqlite3", At("kept.backup"), ".archive --list"));
    }

    /// <summary>A kill leaves work beside its place; the next backup there takes it away.</summary>
    [Fact]
    public async Task What_a_killed_backup_left_goes_with_the_next()
    {
        await using ServiceProvider running = await InstallAsync();
        File.WriteAllText(At("kept.backup.4194305.partial"), "half");
        File.WriteAllText(At("kept.backup.4194305.partial-journal"), "half");
        Backup.Make(At("data"), At("kept.backup"));
        Assert.Equal(
            ["data", "kept.backup"],
            Directory.GetFileSystemEntries(_folder).Select(e => Path.GetFileName(e)!).Order(StringComparer.Ordinal)
        );
    }

    [Fact]
    public async Task A_folder_that_was_half_brought_back_is_not_served()
    {
        await using (await InstallAsync()) { }

        SqliteConnection.ClearAllPools();
        File.Move(At($"data/{DataFolder.Database}"), At($"data/{DataFolder.Database}.restoring"));
        IOException refused = Assert.ThrowsAny<IOException>(() =>
            DuneCrateApp.Build(ServeOptions.ForServe(At("data"), 0, "127.0.0.1", []))
        );
        Assert.Contains("that was never finished", refused.Message);
        Assert.False(File.Exists(At($"data/{DataFolder.Database}")));
    }

    /// <summary>Whoever cuts the end of the history off would have to forge a signature over it.</summary>
    [Theory]
    [InlineData("cut", "it ended with entry 3")]
    [InlineData("cut and gone on", "entry 3 is another than it was")]
    [InlineData("forged", "is not signed by this installation")]
    [InlineData("garbled", "cannot be read")]
    [InlineData("nothing", null)]
    public async Task The_end_of_the_history_cannot_be_cut_off(string how, string? told)
    {
        await using (ServiceProvider running = await InstallAsync())
        {
            using DataFolder held = DataFolder.Take(At("data"));
            var head = new HistoryHead(
                running.GetRequiredService<Microsoft.EntityFrameworkCore.IDbContextFactory<DuneCrateContext>>(),
                running.GetRequiredService<HistoryStore>(),
                held,
                InstallationKeys.Take(held),
                TimeProvider.System,
                Microsoft.Extensions.Logging.Abstractions.NullLogger<HistoryHead>.Instance
            );
            head.Begin();
            if (how == "cut and gone on")
            {
                Cut();
                await running
                    .GetRequiredService<HistoryStore>()
                    .AddAsync(new AuditEvent("Mara Quill", HistoryKinds.Checked, "instead", "KELP"));
            }

            InstallationKeys.Take(held).Change(); // What was signed with the former key holds.
        }

        SqliteConnection.ClearAllPools();
        string anchor = At($"data/{HistoryAnchor.FileName}");
        if (how == "cut")
        {
            Cut();
        }
        else if (how == "forged")
        {
            File.WriteAllText(anchor, File.ReadAllText(anchor).Replace("\"number\": 3", "\"number\": 2", StringComparison.Ordinal));
        }
        else if (how == "garbled")
        {
            File.WriteAllText(anchor, "{}");
        }

        DoctorLine line = new Doctor(At("data"), new Dictionary<string, string>(), TimeProvider.System)
            .Examine()
            .Single(l => l.What == "history");
        Assert.Equal(told is null ? DoctorState.Good : DoctorState.Wrong, line.State);
        Assert.Contains(told ?? "3 entries, each follows from the one before", line.Words);
    }

    private void Cut()
    {
        string database = At($"data/{DataFolder.Database}");
        foreach (
            string trigger in Tool.Run("sqlite3", database, "SELECT name FROM sqlite_master WHERE type = 'trigger'")
                .Split('\n', StringSplitOptions.RemoveEmptyEntries)
        )
        {
            Tool.Run("sqlite3", database, $"DROP TRIGGER {trigger}");
        }

        Tool.Run("sqlite3", database, "DELETE FROM history WHERE Number = 3");
    }

    [Fact]
    public void The_oldest_backups_go_first()
    {
        Directory.CreateDirectory(At("backups"));
        DateTime day = new(2026, 11, 1, 3, 0, 0, DateTimeKind.Utc);
        for (int i = 0; i < 12; i++)
        {
            File.WriteAllText(Path.Combine(At("backups"), BackupPolicy.DailyName(day.AddDays(i))), "");
        }

        File.WriteAllText(Path.Combine(At("backups"), BackupPolicy.MigrationName(day)), "");
        File.WriteAllText(Path.Combine(At("backups"), "mine.backup"), "");
        Assert.Equal(5, BackupPolicy.Prune(At("backups")).Count);
        Assert.Equal(9, Directory.GetFiles(At("backups")).Length);
        Assert.Contains(BackupPolicy.DailyName(day.AddDays(11)), Directory.GetFiles(At("backups")).Select(f => Path.GetFileName(f)));
        Assert.DoesNotContain(BackupPolicy.DailyName(day.AddDays(4)), Directory.GetFiles(At("backups")).Select(f => Path.GetFileName(f)));
    }

    /// <summary>The database itself refuses; whoever takes the triggers away is seen by doctor.</summary>
    [Fact]
    public async Task The_history_can_only_be_added_to()
    {
        string file = Path.Combine(At("data"), DataFolder.Database);
        await using (ServiceProvider running = await InstallAsync())
        {
            foreach (
                string act in (string[])["UPDATE history SET Who = 'x'", "DELETE FROM history", "DELETE FROM history WHERE Number = 3"]
            )
            {
                Assert.Contains("only ever added to", Tool.Run("sh", "-c", $"sqlite3 {file} \"{act}\" 2>&1; true"));
            }
        }

        IReadOnlyList<DoctorLine> Examine() => new Doctor(At("data"), new Dictionary<string, string>(), TimeProvider.System).Examine();
        Assert.Equal(DoctorState.Good, Examine().Single(l => l.What == "history").State);
        Tool.Run("sqlite3", file, "DROP TRIGGER history_no_update; UPDATE history SET Subject = 'nothing' WHERE Number = 2");
        DoctorLine seen = Examine().Single(l => l.What == "history");
        Assert.Equal(DoctorState.Wrong, seen.State);
        Assert.Contains("entry 2 was changed", seen.Words);
    }

    [Fact]
    public async Task Keys_that_were_changed_stay_known()
    {
        await using ServiceProvider running = await InstallAsync();
        using DataFolder held = DataFolder.Take(At("data"));
        var keys = InstallationKeys.Take(held);
        string first = keys.PublicPem,
            print = keys.Change();
        Assert.NotEqual(first, keys.PublicPem);
        Assert.Equal(2, keys.Known().Count);
        Assert.Equal(CrateSignature.Fingerprint(CrateSignature.Read(first)), CrateSignature.Fingerprint(keys.Known()[1]));
        Assert.Contains(
            print[..16],
            new Doctor(At("data"), new Dictionary<string, string>(), TimeProvider.System).Examine().Single(l => l.What == "keys").Words
        );
        File.WriteAllText(At($"data/keys/{InstallationKeys.PrivateFile}"), "not a key");
        Assert.Equal(
            DoctorState.Wrong,
            new Doctor(At("data"), new Dictionary<string, string>(), TimeProvider.System).Examine().Single(l => l.What == "keys").State
        );
    }

    [Fact]
    public void The_verbs_keep_bring_back_and_examine()
    {
        (int none, _, string said) = CommandLine.Dune("backup", "--data", At("nothing"), "--to", At("b"));
        Assert.Equal(2, none);
        Assert.Contains("is no data folder", said);
        (int examined, string lines, _) = CommandLine.Dune("doctor", "--data", At("nothing"), "--root", $"renders={At("gone")}");
        Assert.Equal(1, examined);
        Assert.Contains("WRONG  data folder", lines);
        Assert.Contains("WRONG  root renders", lines);
        Assert.Contains("--root renders=DIR", lines);
        (int wrong, _, string message) = CommandLine.Dune("doctor", "--root", "renders");
        Assert.Equal(2, wrong);
        Assert.Single(message.Trim().Split('\n'));
    }
}

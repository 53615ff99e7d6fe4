using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Store.Tests;

/// <summary>
/// The database file as it may be found: old, half brought up to date, damaged, newer, somebody else's. What SQLite itself says of it is
/// asked with <c>PRAGMA integrity_check</c>. Source: OWASP Application Security Verification Standard 4.0.3, V14.1 (deployment that can be
/// repeated) and V12.4.1 (files are kept with least permission).
/// </summary>
public sealed class StoreFileTests : IDisposable
{
    private const string Before = "20261127150401_SceneHelpers";

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-file-").FullName;

    private string File => Path.Combine(_folder, "dune-crate.db");

    private string Copy => File + ".migrating";

    [Fact]
    public void Only_its_owner_may_read_it()
    {
        Prepare();
        foreach (string file in Directory.GetFiles(_folder))
        {
            Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, System.IO.File.GetUnixFileMode(file) & ~UnixFileMode.UserExecute);
        }
    }

    [Fact]
    public async Task A_kill_while_it_is_brought_up_to_date_never_blocks_the_next_start()
    {
        await OldAsync();
        byte[] old = System.IO.File.ReadAllBytes(File);

        // At every point there may be a copy in any state beside the old file; the file itself is old or new.
        foreach (
            byte[] copy in (byte[][])
                [
                    [],
                    "SQLite format 3\0"u8.ToArray(),
                    old[..(old.Length / 2)],
                    [.. old[..^100], .. new byte[100]],
                    old,
                ]
        )
        {
            System.IO.File.WriteAllBytes(File, old);
            System.IO.File.WriteAllBytes(Copy, copy);
            System.IO.File.WriteAllBytes(Copy + "-wal", [1, 2, 3]);
            Prepare();
            Assert.Equal("ok", Ask("PRAGMA integrity_check"));
            Assert.Equal("KELP", Ask("SELECT Code FROM shows"));
            Assert.DoesNotContain(Directory.GetFiles(_folder), f => f.Contains("migrating", StringComparison.Ordinal));
        }
    }

    [Fact]
    public async Task What_was_written_and_not_yet_moved_into_the_file_is_carried_over()
    {
        await OldAsync();
        using (var writer = new SqliteConnection($"Data Source={File};Pooling=False"))
        {
            writer.Open();
            Run(writer, "PRAGMA journal_mode=WAL");
            Run(writer, "PRAGMA wal_autocheckpoint=0");
            Run(writer, "UPDATE shows SET Name = 'in the log only'");

            // As after a kill: file and log are copied while the writer still has them open.
            string killed = Path.Combine(_folder, "killed");
            Directory.CreateDirectory(killed);
            foreach (string file in Directory.GetFiles(_folder, "dune-crate.db*").Where(f => !f.EndsWith("-shm", StringComparison.Ordinal)))
            {
                System.IO.File.Copy(file, Path.Combine(killed, Path.GetFileName(file)));
            }
        }

        string there = Path.Combine(_folder, "killed", "dune-crate.db");
        new ServiceCollection().AddDuneCrateStore(there).BuildServiceProvider().Dispose();
        Assert.Equal("in the log only", Ask("SELECT Name FROM shows", there));
    }

    [Theory]
    [InlineData("nonsense that is no database at all, whatever its name says; long enough to have a header of a hundred bytes or so in it")]
    [InlineData("SQLite format 3\0and then nothing that makes sense")]
    public void What_is_no_database_is_said_in_a_sentence(string content)
    {
        System.IO.File.WriteAllText(File, content);
        StoreException e = Assert.Throws<StoreException>(Prepare);
        Assert.Contains("is damaged", e.Message);
        Assert.Contains("frames and crates are not in it", e.Message);
        Assert.Equal(content, System.IO.File.ReadAllText(File));
    }

    [Fact]
    public void A_damaged_one_is_said_and_left_as_it_is()
    {
        Prepare();
        byte[] bytes = System.IO.File.ReadAllBytes(File);
        new Random(5).NextBytes(bytes.AsSpan(200, bytes.Length / 2));
        System.IO.File.WriteAllBytes(File, bytes);
        System.IO.File.WriteAllBytes(File + "-wal", []); // As after a kill, when it is examined.
        Assert.Contains("is damaged", Assert.Throws<StoreException>(Prepare).Message);
        Assert.Equal(bytes, System.IO.File.ReadAllBytes(File));
    }

    [Fact]
    public void One_of_a_newer_version_is_said_and_left_as_it_is()
    {
        Prepare();
        Ask("INSERT INTO __EFMigrationsHistory VALUES ('20990101000000_Future', '12.0.0')");
        StoreException e = Assert.Throws<StoreException>(Prepare);
        Assert.Contains("newer version of Dune Crate (it knows 20990101000000_Future)", e.Message);
    }

    [Fact]
    public void A_folder_in_its_place_is_said()
    {
        Directory.CreateDirectory(File);
        Assert.ThrowsAny<IOException>(Prepare);
    }

    [Fact]
    public void Preparing_again_changes_nothing()
    {
        Prepare();
        string before = Ask("SELECT count(*) FROM sqlite_master")!;
        Prepare();
        Assert.Equal(before, Ask("SELECT count(*) FROM sqlite_master"));
        Assert.Equal("ok", Ask("PRAGMA integrity_check"));
    }

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(_folder, recursive: true);
    }

    private void Prepare() => new ServiceCollection().AddDuneCrateStore(File).BuildServiceProvider().Dispose();

    /// <summary>
    /// What wrote the fixture took thirteen steps to the tables that are one step now: sqlite3 wrote it down, with a row in each table.
    /// </summary>
    [Fact]
    public void One_that_took_the_first_steps_one_by_one_keeps_every_row()
    {
        string dump = Repository.File("tests/DuneCrate.Store.Tests/Fixtures/scene-helpers.sql");
        Tool.Run("sqlite3", File, $".read {dump}");
        string[] tables = Tables(File);
        Dictionary<string, string> before = tables.ToDictionary(t => t, t => Rows(t));
        Prepare();
        Assert.True(tables.Length > 25);
        Assert.All(tables, t => Assert.Equal((t, before[t]), (t, Rows(t))));
        Assert.Equal("ok", Ask("PRAGMA integrity_check"));

        // It is the same database as one that is made today.
        string made = Path.Combine(_folder, "made.db");
        Assert.Null(StoreFile.Prepare(made, TimeProvider.System));
        Assert.Equal(Columns(made), Columns(File));
        Assert.Contains("only ever added to", Assert.Throws<SqliteException>(() => Ask("DELETE FROM history")).Message);
        Assert.Contains("only ever added to", Assert.Throws<SqliteException>(() => Ask("UPDATE history SET Who = 'x'")).Message);
    }

    [Fact]
    public void One_from_before_the_first_steps_were_one_is_said_and_left_as_it_is()
    {
        Prepare();
        Ask("UPDATE __EFMigrationsHistory SET MigrationId = '20261124235253_Planning' WHERE MigrationId LIKE '%SceneHelpers'");
        byte[] left = System.IO.File.ReadAllBytes(File);
        Assert.Contains("trial version of Dune Crate from before 2026-11-27", Assert.Throws<StoreException>(Prepare).Message);
        Assert.Equal(left, System.IO.File.ReadAllBytes(File));
    }

    private string[] Tables(string file) =>
        Ask(
                "SELECT group_concat(name) FROM sqlite_master WHERE type = 'table'"
                    + " AND name NOT LIKE 'sqlite%' AND name NOT LIKE '\\_\\_EF%' ESCAPE '\\'",
                file
            )!
            .Split(',');

    private string Rows(string table) => Tool.Run("sqlite3", File, $"SELECT * FROM \"{table}\"");

    /// <summary>Tables with their columns, indexes and triggers, whatever their order.</summary>
    private static string Columns(string file) =>
        Tool.Run(
            "sqlite3",
            file,
            """
            SELECT m.type, m.name, c.name, c.type, c."notnull", c.pk
            FROM sqlite_master m LEFT JOIN pragma_table_info(m.name) c
            WHERE m.name NOT LIKE 'sqlite%'
            ORDER BY m.type, m.name, c.name
            """
        );

    /// <summary>Shows keep the folders that they use, of shots and of plates in stacks, and that is said.</summary>
    [Fact]
    public async Task Folders_that_shows_use_stay_theirs()
    {
        await OldAsync();
        using (var old = new SqliteConnection($"Data Source={File};Pooling=False;Foreign Keys=False"))
        {
            old.Open();
            string plates = """{"strips":[{"name":"a","root":"plates","source":"sky/dusk/p.####.exr"},{"name":"b","source":"c.exr"}]}""";
            Run(
                old,
                "INSERT INTO shots (Id, ShowId, Code, PlanJson, Revision, Root, Folder, LastEvent, LastEventAt) "
                    + "VALUES (1, 1, 'KP010', '{}', 0, 'renders', 'KP010', '', '2026-11-01')"
            );
            Run(
                old,
                "INSERT INTO shots (Id, ShowId, Code, PlanJson, Revision, Root, Folder, LastEvent, LastEventAt) "
                    + "VALUES (2, 1, 'KP020', '{}', 0, NULL, '', '', '2026-11-01')"
            );
            Run(
                old,
                $"INSERT INTO stacks (ShotId, Name, Document, Revision, PastJson, FutureJson, At) VALUES (1, 'test', "
                    + $"'{plates}', 0, '[]', '[]', '2026-11-01')"
            );
            Run(
                old,
                "INSERT INTO stacks (ShotId, Name, Document, Revision, PastJson, FutureJson, At) VALUES (1, 'broken', "
                    + "'{', 0, '[]', '[]', '2026-11-01')"
            );
        }

        string? note = StoreFile.Prepare(File, TimeProvider.System);
        Assert.Equal(
            "1 plates/sky/dusk,1 renders/KP010",
            Ask("SELECT group_concat(x) FROM (SELECT ShowId || ' ' || Root || '/' || Folder AS x FROM show_folders ORDER BY x)")
        );
        Assert.Contains("KELP has plates/sky/dusk, renders/KP010", note);
        Assert.Null(StoreFile.Prepare(File, TimeProvider.System));
    }

    private async Task OldAsync(string version = Before)
    {
        await using DuneCrateContext context = new(
            new DbContextOptionsBuilder<DuneCrateContext>().UseSqlite($"Data Source={File};Pooling=False").Options
        );
        await context.GetService<IMigrator>().MigrateAsync(version);
        await context.Database.ExecuteSqlRawAsync(
            "INSERT INTO shows (Id, Code, Name, FrameRate, Width, Height) VALUES (1, 'KELP', 'The Kelp Post', '24/1', 640, 360)"
        );
    }

    private string? Ask(string sql, string? file = null)
    {
        using var connection = new SqliteConnection($"Data Source={file ?? File};Pooling=False");
        connection.Open();
        return Run(connection, sql);
    }

    private static string? Run(SqliteConnection connection, string sql)
    {
        using SqliteCommand command = connection.CreateCommand();
        command.CommandText = sql;
        return command.ExecuteScalar()?.ToString();
    }
}

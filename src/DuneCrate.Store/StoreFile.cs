using System.Collections.Frozen;
using System.Globalization;
using System.Reflection;
using DuneCrate.Foundation.Time;
using DuneCrate.Store.Keeping;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Migrations;

namespace DuneCrate.Store;

/// <summary>
/// The database file: made, brought up to date and examined before anything uses it. An older one is copied, the copy is brought up to date
/// and takes its place at once, so that a kill at
/// any moment leaves either the old or the new one. Readable by its owner only.
/// </summary>
public static class StoreFile
{
    /// <summary>Behind the name of a database that is being brought back.</summary>
    internal const string Restoring = ".restoring";

    private const long MostExamined = 1L << 30;

    private const UnixFileMode OwnerOnly = UnixFileMode.UserRead | UnixFileMode.UserWrite;

    /// <summary>Names of this program's migrations, as they say themselves: to ask Entity Framework takes half of a start.</summary>
    private static readonly FrozenSet<string> Known = typeof(StoreFile)
        .Assembly.GetTypes()
        .Select(t => t.GetCustomAttribute<MigrationAttribute>()?.Id)
        .OfType<string>()
        .ToFrozenSet();

    /// <summary>The first of them: what came before it is in it.</summary>
    private static readonly string First = Known.Min(StringComparer.Ordinal)!;

    /// <summary>Makes the file ready.</summary>
    /// <param name="file">The file.</param>
    /// <param name="clock">The clock that the backup before a change is called by.</param>
    /// <returns>What people should know when it was brought up to date, in words; else null.</returns>
    /// <exception cref="StoreException">It is damaged, no database, or newer than this program.</exception>
    public static string? Prepare(string file, TimeProvider clock)
    {
        string? note = null;
        if (File.Exists(file + Restoring))
        {
            throw new StoreException(
                $"{Path.GetDirectoryName(file)} was being brought back from a backup, and that was never finished. "
                    + $"Empty the folder and restore "
                    + "once more: ./dune restore FILE --data DIR."
            );
        }

        string copy = file + ".migrating";
        Remove(copy);
        try
        {
            bool wasKilled = File.Exists(file + "-wal");
            if (!File.Exists(file))
            {
                Migrate(copy);
                Replace(file, copy);
            }
            else if (IsBehind(file))
            {
                KeepBefore(file, clock);
                Copy(file, copy);
                bool hadFolders = HasFolders(copy);
                Migrate(copy);
                note = hadFolders ? null : FolderNote(copy);
                Replace(file, copy);
            }

            File.SetUnixFileMode(file, OwnerOnly);
            using SqliteConnection connection = Open(file);
            string? found = wasKilled && new FileInfo(file).Length <= MostExamined ? Text(connection, "PRAGMA quick_check(1)") : "ok";
            if (found != "ok")
            {
                throw Damaged(file, found ?? "it does not answer", null);
            }

            Text(connection, "PRAGMA journal_mode=WAL");
            return note;
        }
        catch (SqliteException e)
        {
            throw Foreseen(file, e);
        }
        finally
        {
            SqliteConnection.ClearAllPools();
        }
    }

    private static bool HasFolders(string file)
    {
        using SqliteConnection connection = Open(file);
        return Text(connection, "SELECT name FROM sqlite_master WHERE name = 'show_folders'") is not null;
    }

    private static string? FolderNote(string file)
    {
        using SqliteConnection connection = Open(file);
        return Text(
            connection,
            """
            SELECT 'Folders belong to shows from now on. Each keeps those that it uses: '
                || group_concat(shows.Code || ' has ' || folders, '; ')
                || '. Whoever looks after the installation adds others on the settings page of a show.'
            FROM (
                SELECT ShowId, group_concat(Root || '/' || Folder, ', ') AS folders
                FROM (SELECT * FROM show_folders ORDER BY Root, Folder)
                GROUP BY ShowId
            )
            JOIN shows ON shows.Id = ShowId
            HAVING count(*) > 0
            """
        );
    }

    /// <summary>
    /// Whether the database could not be written for the moment, because of its disk or another program, and not because of what was to be
    /// written. Source: SQLite, result codes.
    /// </summary>
    public static bool IsDisk(Exception? e) =>
        e switch
        {
            null => false,
            SqliteException sqlite => sqlite.SqliteErrorCode
                is SQLitePCL.raw.SQLITE_FULL
                    or SQLitePCL.raw.SQLITE_IOERR
                    or SQLitePCL.raw.SQLITE_BUSY
                    or SQLitePCL.raw.SQLITE_LOCKED
                    or SQLitePCL.raw.SQLITE_READONLY
                    or SQLitePCL.raw.SQLITE_CANTOPEN
                    or SQLitePCL.raw.SQLITE_CORRUPT
                    or SQLitePCL.raw.SQLITE_NOMEM,
            IOException => true,
            _ => IsDisk(e.InnerException),
        };

    /// <summary>What SQLite says of a file, in words that say what to do.</summary>
    internal static StoreException Foreseen(string file, SqliteException e) =>
        e.SqliteErrorCode switch
        {
            SQLitePCL.raw.SQLITE_CORRUPT or SQLitePCL.raw.SQLITE_NOTADB => Damaged(file, "it cannot be read", e),
            SQLitePCL.raw.SQLITE_FULL => new StoreException(
                $"There is no room on the disk for the database {file}. Make room and start again; nothing was changed.",
                e
            ),
            SQLitePCL.raw.SQLITE_BUSY or SQLitePCL.raw.SQLITE_LOCKED => new StoreException(
                $"Another program holds the database {file} and does not let go. Wait until it is done, then try again.",
                e
            ),
            _ => new StoreException(
                $"The database {file} cannot be opened (SQLite error {e.SqliteErrorCode}). Look at its permissions and the disk.",
                e
            ),
        };

    /// <summary>The database as it is, in a backup of its own, before it is brought up to date.</summary>
    private static void KeepBefore(string file, TimeProvider clock)
    {
        string data = Path.GetDirectoryName(file)!,
            backups = Path.Combine(data, DataFolder.Backups);
        Backup.Make(data, Path.Combine(backups, BackupPolicy.MigrationName(clock.UtcNow)), hasCrates: false);
        BackupPolicy.Prune(backups);
    }

    private static StoreException Damaged(string file, string found, Exception? cause) =>
        new(
            $"The database {file} is damaged ({found}). Bring a backup back in its place, or move it away to begin with an empty "
                + $"one; frames and crates are not in it.",
            cause
        );

    /// <summary>Whether the file lacks migrations of this program.</summary>
    internal static bool IsBehind(string file)
    {
        using SqliteConnection connection = Open(file);
        string[] applied = Text(connection, "SELECT name FROM sqlite_master WHERE name = '__EFMigrationsHistory'") is null
            ? []
            : [.. Texts(connection, "SELECT MigrationId FROM __EFMigrationsHistory")];
        if (applied.FirstOrDefault(m => !Known.Contains(m) && string.CompareOrdinal(m, First) > 0) is { } newer)
        {
            throw new StoreException(
                $"The database {file} was written by a newer version of Dune Crate (it knows {newer}). Start that version, or "
                    + $"another data folder."
            );
        }

        return applied.Length == 0 || applied.Contains(First)
            ? !Known.IsSubsetOf(applied)
            : throw new StoreException(
                $"The database {file} was written by a trial version of Dune Crate from before {First[..4]}-{First[4..6]}-{First[6..8]}, "
                    + "which this one cannot bring up to date. Start a version of December 2026 with it once, then this one."
            );
    }

    private static void Copy(string file, string copy)
    {
        Create(copy);
        using SqliteConnection from = Open(file),
            to = Open(copy);
        CopyAll(from, to);
    }

    /// <summary>Copies a whole database by SQLite's online backup; waits for whoever holds it for a moment, as one does who closes it
    /// last.</summary>
    internal static void CopyAll(SqliteConnection from, SqliteConnection to)
    {
        // SQLite waits by itself where it is told to. Source: SQLite, sqlite3_backup_step and busy_timeout.
        Text(from, string.Create(CultureInfo.InvariantCulture, $"PRAGMA busy_timeout = {from.DefaultTimeout * 1000}"));
        from.BackupDatabase(to);
    }

    private static void Migrate(string file)
    {
        Create(file);
        using (SqliteConnection connection = Open(file))
        {
            // Whoever was killed while migrating left this behind, and the next one would wait for it for ever.
            Text(connection, "DROP TABLE IF EXISTS __EFMigrationsLock");
            using DuneCrateContext context = Context(connection);
            context.Database.Migrate();
            Text(connection, "PRAGMA wal_checkpoint(TRUNCATE)");
            Text(connection, "PRAGMA journal_mode=DELETE");
        }

        SqliteConnection.ClearAllPools();
        using FileStream stream = new(file, FileMode.Open, FileAccess.ReadWrite);
        stream.Flush(flushToDisk: true);
    }

    private static void Replace(string file, string copy)
    {
        SqliteConnection.ClearAllPools();
        if (new FileInfo(file + "-wal") is { Exists: true, Length: > 0 })
        {
            throw new StoreException(
                $"{file}-wal holds changes that could not be taken into the database. Start the version that wrote it once more, "
                    + $"then this one."
            );
        }

        foreach (string beside in (string[])["-wal", "-shm"])
        {
            File.Delete(file + beside);
        }

        File.Move(copy, file, overwrite: true);
    }

    /// <summary>Makes an empty file that its owner alone may read, unless it is there.</summary>
    internal static void Create(string file)
    {
        if (!File.Exists(file))
        {
            using FileStream made = new(
                file,
                new FileStreamOptions
                {
                    Mode = FileMode.CreateNew,
                    Access = FileAccess.Write,
                    UnixCreateMode = OwnerOnly,
                }
            );
        }
    }

    /// <summary>Deletes a database with what SQLite puts beside it.</summary>
    internal static void Remove(string file)
    {
        foreach (string beside in (string[])["", "-wal", "-shm", "-journal"])
        {
            File.Delete(file + beside);
        }
    }

    /// <summary>Opens a database that nobody else keeps open for us.</summary>
    internal static SqliteConnection Open(string file, SqliteOpenMode mode = SqliteOpenMode.ReadWriteCreate)
    {
        var connection = new SqliteConnection(
            new SqliteConnectionStringBuilder
            {
                DataSource = file,
                DefaultTimeout = 30,
                Pooling = false,
                Mode = mode,
            }.ToString()
        );
        connection.Open();
        return connection;
    }

    /// <summary>A context over an open database.</summary>
    internal static DuneCrateContext Context(SqliteConnection connection) =>
        new(new DbContextOptionsBuilder<DuneCrateContext>().UseSqlite(connection).Options);

    /// <summary>The first column that a command answers, as text.</summary>
    private static IEnumerable<string> Texts(SqliteConnection connection, string sql)
    {
        using SqliteCommand command = connection.CreateCommand();
        command.CommandText = sql;
        using SqliteDataReader reader = command.ExecuteReader();
        while (reader.Read())
        {
            yield return reader.GetString(0);
        }
    }

    /// <summary>The first value that a command answers, as text.</summary>
    internal static string? Text(SqliteConnection connection, string sql)
    {
        using SqliteCommand command = connection.CreateCommand();
        command.CommandText = sql;
        return command.ExecuteScalar()?.ToString();
    }
}

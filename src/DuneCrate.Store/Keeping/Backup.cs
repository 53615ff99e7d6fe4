using System.Security.Cryptography;
using System.Text;
using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using Microsoft.Data.Sqlite;

namespace DuneCrate.Store.Keeping;

/// <summary>
/// Keeps an installation in one file and brings it back, also while the application runs. The file is the database itself, copied by
/// SQLite's online backup, with every other file of the data folder in a table <c>sqlar</c>, so that <c>sqlite3</c> opens and lists it.
/// Source: SQLite, "Online Backup API" and "SQLite Archive Files".
/// </summary>
public static class Backup
{
    private const UnixFileMode OwnerOnly = UnixFileMode.UserRead | UnixFileMode.UserWrite,
        OwnerFolder = OwnerOnly | UnixFileMode.UserExecute;

    /// <summary>Bytes that one value of a SQLite database may have. Source: SQLite, "Implementation Limits".</summary>
    private const long MostBytes = 1_000_000_000;

    private const string MakeArchive = "CREATE TABLE sqlar(name TEXT PRIMARY KEY, mode INT, mtime INT, sz INT, data BLOB)";

    private static readonly string[] MadeAnew = [DataFolder.Proxies, DataFolder.Backups, "renders"],
        Heavy = ["crates", "composites"];

    /// <summary>Makes a backup.</summary>
    /// <param name="data">The data folder.</param>
    /// <param name="file">The backup; it must not be there yet.</param>
    /// <param name="hasCrates">Whether crates and written composites that lie in the data folder go in too.</param>
    /// <param name="cancel">Stops; nothing is left.</param>
    /// <param name="clock">Tells when it is made; the system does without.</param>
    /// <exception cref="StoreException">There is no database, the file is there already, or what was copied does not hold.</exception>
    /// <exception cref="IOException">The disk refuses.</exception>
    public static BackupContents Make(
        string data,
        string file,
        bool hasCrates = true,
        CancellationToken cancel = default,
        TimeProvider? clock = null
    )
    {
        string database = Path.Combine(data, DataFolder.Database);
        if (!File.Exists(database))
        {
            throw new StoreException(
                $"{data} is no data folder: it has no {DataFolder.Database}. Name the folder that serve was given with --data."
            );
        }

        file = Path.GetFullPath(file);
        if (File.Exists(file) || Directory.Exists(file))
        {
            throw new StoreException($"{file} is there already; name a new file, so that no older backup is lost.");
        }

        Directory.CreateDirectory(Path.GetDirectoryName(file)!);
        Sweep(file);
        string work = $"{file}.{Environment.ProcessId}.partial";
        try
        {
            StoreFile.Create(work);
            int files;
            List<string> leftOut =
            [
                .. Heavy.Where(h => !hasCrates && Directory.Exists(Path.Combine(data, h))),
                .. Directory
                    .EnumerateFileSystemEntries(data)
                    .Select(e => Path.GetFileName(e))
                    .Where(IsForeign)
                    .Select(n => $"{n}, which is none of Dune Crate's"),
            ];
            using (
                SqliteConnection from = StoreFile.Open(database, SqliteOpenMode.ReadOnly),
                    to = StoreFile.Open(work)
            )
            {
                StoreFile.CopyAll(from, to);
                StoreFile.Text(to, "PRAGMA journal_mode=DELETE");
                StoreHold.Forget(to);
                StoreFile.Text(to, MakeArchive);
                files = Pack(to, data, hasCrates, leftOut, cancel);
                Anchor(to, data, (clock ?? TimeProvider.System).GetUtcNow());
                if (StoreFile.Text(to, "PRAGMA integrity_check(1)") is var found and not "ok")
                {
                    throw new StoreException($"The backup does not hold ({found}); nothing was kept. Run doctor on {data}.");
                }
            }

            using (FileStream flush = new(work, FileMode.Open, FileAccess.ReadWrite))
            {
                flush.Flush(flushToDisk: true);
            }

            File.Move(work, file, overwrite: false);
            return new BackupContents(file, new FileInfo(file).Length, files, leftOut);
        }
        catch (Exception e) when (IsFull(e))
        {
            throw new StoreException(
                $"There is no room on the disk for the backup {file}. Make room, or name another disk with --to; nothing was kept.",
                e
            );
        }
        catch (SqliteException e)
        {
            throw StoreFile.Foreseen(database, e);
        }
        finally
        {
            SqliteConnection.ClearAllPools();
            StoreFile.Remove(work);
        }
    }

    /// <summary>Whether something in a data folder is neither the application's nor made anew.</summary>
    private static bool IsForeign(string name) =>
        !name.StartsWith(DataFolder.Database, StringComparison.Ordinal)
        && !DataFolder.IsMark(name)
        && !MadeAnew.Contains(name)
        && !DataFolder.Knows(name)
        && !name.EndsWith(".partial", StringComparison.Ordinal);

    private static bool IsFull(Exception e) =>
        e is SqliteException { SqliteErrorCode: SQLitePCL.raw.SQLITE_FULL } || (e is IOException disk && StorageException.IsFull(disk));

    /// <summary>Deletes what backups to the same place left that were killed: their process is gone.</summary>
    private static void Sweep(string file)
    {
        foreach (string left in Directory.EnumerateFiles(Path.GetDirectoryName(file)!, Path.GetFileName(file) + ".*.partial"))
        {
            string process = left[(file.Length + 1)..^".partial".Length];
            if (process.All(char.IsAsciiDigit) && !Directory.Exists($"/proc/{process}"))
            {
                StoreFile.Remove(left);
            }
        }
    }

    /// <summary>Signs the history as the backup has it.</summary>
    private static void Anchor(SqliteConnection to, string data, DateTimeOffset at)
    {
        string file = Path.Combine(data, DataFolder.Keys, InstallationKeys.PrivateFile);
        if (!File.Exists(file) || StoreFile.Text(to, "SELECT name FROM sqlite_master WHERE name = 'history'") is null)
        {
            return;
        }

        using ECDsa key = CrateSignature.Read(File.ReadAllText(file));
        using DuneCrateContext context = StoreFile.Context(to);
        byte[] anchor = Encoding.UTF8.GetBytes(HistoryAnchor.Sign(context, key, at.UtcDateTime).Write());
        using SqliteCommand insert = to.CreateCommand();
        insert.CommandText = "INSERT OR REPLACE INTO sqlar(name, mode, mtime, sz, data) VALUES($name, $mode, $mtime, $size, $data)";
        insert.Parameters.AddWithValue("$name", HistoryAnchor.FileName);
        insert.Parameters.AddWithValue("$mode", 0x8000 | (int)OwnerOnly);
        insert.Parameters.AddWithValue("$mtime", at.ToUnixTimeSeconds());
        insert.Parameters.AddWithValue("$size", anchor.Length);
        insert.Parameters.AddWithValue("$data", anchor);
        insert.ExecuteNonQuery();
    }

    /// <summary>Brings an installation back.</summary>
    /// <param name="file">A backup.</param>
    /// <param name="data">The data folder; it must be empty or not there.</param>
    /// <param name="cancel">Stops; what was brought back is taken away again.</param>
    /// <returns>How many files beside the database came back.</returns>
    /// <exception cref="StoreException">The file is no backup, or damaged; or the folder holds something already.</exception>
    /// <exception cref="IOException">The disk refuses.</exception>
    public static int Restore(string file, string data, CancellationToken cancel = default)
    {
        if (!File.Exists(file))
        {
            throw new FileNotFoundException($"There is no file {file}; name a backup.");
        }

        data = Path.GetFullPath(data);
        bool isThere = Directory.Exists(data);
        if (isThere && Directory.EnumerateFileSystemEntries(data).Any(e => !DataFolder.IsMark(Path.GetFileName(e))))
        {
            throw new StoreException($"{data} is not empty. Move it away, or name a new folder with --data; nothing is written over.");
        }

        using DataFolder held = DataFolder.Take(data);
        try
        {
            string work = Path.Combine(data, DataFolder.Database + StoreFile.Restoring);
            File.Copy(file, work);
            File.SetUnixFileMode(work, OwnerOnly);
            int files;
            using (SqliteConnection connection = StoreFile.Open(work))
            {
                if (StoreFile.Text(connection, "PRAGMA integrity_check(1)") is var found and not "ok")
                {
                    throw Damaged(file, found ?? "it does not answer");
                }

                if (
                    StoreFile.Text(connection, "SELECT name FROM sqlite_master WHERE name = 'sqlar'") is null
                    || StoreFile.Text(connection, "SELECT name FROM sqlite_master WHERE name = 'shows'") is null
                )
                {
                    throw new StoreException($"{file} is no backup of Dune Crate. Name a file that ./dune backup made.");
                }

                files = Unpack(connection, data, cancel);
                StoreFile.Text(connection, "DROP TABLE sqlar");
                StoreFile.Text(connection, "VACUUM");
            }

            SqliteConnection.ClearAllPools();
            File.Move(work, Path.Combine(data, DataFolder.Database));
            return files;
        }
        catch (Exception e)
        {
            SqliteConnection.ClearAllPools();
            held.Empty();
            throw e switch
            {
                SqliteException sqlite when sqlite.SqliteErrorCode is SQLitePCL.raw.SQLITE_NOTADB or SQLitePCL.raw.SQLITE_CORRUPT =>
                    Damaged(file, "it is no SQLite database, or a part of it is lost"),
                SqliteException sqlite => StoreFile.Foreseen(file, sqlite),
                _ => e,
            };
        }
    }

    private static StoreException Damaged(string file, string found) =>
        new($"The backup {file} is damaged ({found}). Bring back an older one; nothing was written.");

    private static int Pack(SqliteConnection to, string data, bool hasCrates, List<string> leftOut, CancellationToken cancel)
    {
        int count = 0;
        using SqliteTransaction transaction = to.BeginTransaction();
        foreach (FileInfo file in Files(data, hasCrates))
        {
            cancel.ThrowIfCancellationRequested();
            string name = Path.GetRelativePath(data, file.FullName);
            using FileStream? content = Open(file);
            if (content is null)
            {
                continue;
            }

            // What is appended meanwhile, as to a log, comes into the next backup.
            long size = content.Length;
            if (size > MostBytes)
            {
                leftOut.Add($"{name}, which is too large for a backup; copy it by itself");
                continue;
            }

            using SqliteCommand insert = to.CreateCommand();
            insert.CommandText =
                "INSERT INTO sqlar(name, mode, mtime, sz, data) VALUES($name, $mode, $mtime, $size, zeroblob($size)); "
                + "SELECT last_insert_rowid()";
            insert.Parameters.AddWithValue("$name", name);
            insert.Parameters.AddWithValue("$mode", 0x8000 | (int)File.GetUnixFileMode(content.SafeFileHandle));
            insert.Parameters.AddWithValue("$mtime", new DateTimeOffset(file.LastWriteTimeUtc).ToUnixTimeSeconds());
            insert.Parameters.AddWithValue("$size", size);
            long row = (long)insert.ExecuteScalar()!;
            using var blob = new SqliteBlob(to, "sqlar", "data", row);
            Copy(content, blob, size);
            count++;
        }

        transaction.Commit();
        return count;
    }

    /// <summary>Opens a file that others may write or delete; null when it is gone.</summary>
    private static FileStream? Open(FileInfo file)
    {
        try
        {
            return new FileStream(file.FullName, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete);
        }
        catch (Exception e) when (e is FileNotFoundException or DirectoryNotFoundException)
        {
            return null;
        }
    }

    /// <summary>Copies so many bytes, or what there is of them.</summary>
    private static void Copy(Stream from, Stream to, long bytes)
    {
        byte[] buffer = new byte[81920];
        for (int read; bytes > 0 && (read = from.Read(buffer, 0, (int)Math.Min(buffer.Length, bytes))) > 0; bytes -= read)
        {
            to.Write(buffer, 0, read);
        }
    }

    /// <summary>The data folder's own files beside the database; no links, nothing that is being written, nothing that can be made
    /// anew.</summary>
    private static IEnumerable<FileInfo> Files(string data, bool hasCrates)
    {
        foreach (FileSystemInfo entry in new DirectoryInfo(data).EnumerateFileSystemInfos().OrderBy(e => e.Name, StringComparer.Ordinal))
        {
            bool isOut =
                entry.LinkTarget is not null
                || entry.Name.StartsWith(DataFolder.Database, StringComparison.Ordinal)
                || DataFolder.IsMark(entry.Name)
                || MadeAnew.Contains(entry.Name)
                || !DataFolder.Knows(entry.Name)
                || !hasCrates && Heavy.Contains(entry.Name);
            if (!isOut && entry is FileInfo file)
            {
                yield return file;
            }
            else if (!isOut && entry is DirectoryInfo folder)
            {
                foreach (FileInfo below in Below(folder))
                {
                    yield return below;
                }
            }
        }
    }

    private static IEnumerable<FileInfo> Below(DirectoryInfo folder) =>
        folder
            .EnumerateFileSystemInfos()
            .Where(e => e.LinkTarget is null && !e.Name.EndsWith(".partial", StringComparison.Ordinal))
            .OrderBy(e => e.Name, StringComparer.Ordinal)
            .SelectMany(e => e is DirectoryInfo below ? Below(below) : [(FileInfo)e]);

    private static int Unpack(SqliteConnection from, string data, CancellationToken cancel)
    {
        int count = 0;
        using SqliteCommand all = from.CreateCommand();
        all.CommandText = "SELECT rowid, name, mode, mtime FROM sqlar";
        using SqliteDataReader reader = all.ExecuteReader();
        while (reader.Read())
        {
            cancel.ThrowIfCancellationRequested();
            string name = reader.GetString(1),
                path = Path.GetFullPath(Path.Combine(data, name));
            if (Path.IsPathRooted(name) || !path.StartsWith(data + Path.DirectorySeparatorChar, StringComparison.Ordinal))
            {
                throw new StoreException(
                    $"The backup names a file outside the data folder: {VisibleText.Clean(name)}. It was not made by Dune Crate."
                );
            }

            if (!DataFolder.Knows(Path.GetRelativePath(data, path)))
            {
                throw new StoreException(
                    $"The backup names a file that no data folder has: {VisibleText.Clean(name)}. It was not made by Dune Crate."
                );
            }

            Directory.CreateDirectory(Path.GetDirectoryName(path)!, OwnerFolder);
            using (FileStream to = new(path, FileMode.CreateNew, FileAccess.Write))
            {
                using var blob = new SqliteBlob(from, "sqlar", "data", reader.GetInt64(0), readOnly: true);
                blob.CopyTo(to);
                to.Flush(flushToDisk: true);
            }

            File.SetLastWriteTimeUtc(path, DateTimeOffset.FromUnixTimeSeconds(reader.GetInt64(3)).UtcDateTime);
            File.SetUnixFileMode(path, (UnixFileMode)(reader.GetInt32(2) & 0x1ff));
            count++;
        }

        return count;
    }
}

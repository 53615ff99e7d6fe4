using System.Globalization;
using System.Security.Cryptography;
using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Time;
using DuneCrate.Store.Rows;
using Microsoft.Data.Sqlite;

namespace DuneCrate.Store.Keeping;

/// <summary>Examines an installation, also while it runs; changes nothing.</summary>
/// <param name="data">The data folder.</param>
/// <param name="roots">Storage roots: name to folder; empty when none were named.</param>
public sealed class Doctor(string data, IReadOnlyDictionary<string, string> roots, TimeProvider clock)
{
    private const long LittleRoom = 1L << 30,
        EnoughRoom = 10L << 30;

    private const UnixFileMode Others = UnixFileMode.GroupRead | UnixFileMode.GroupWrite | UnixFileMode.OtherRead | UnixFileMode.OtherWrite;

    private static readonly TimeSpan OldBackup = TimeSpan.FromDays(3);

    private readonly List<DoctorLine> _lines = [];

    private string At(string name) => Path.Combine(data, name);

    /// <summary>Examines everything.</summary>
    public IReadOnlyList<DoctorLine> Examine()
    {
        _lines.Clear();
        Versions();
        if (!Directory.Exists(data))
        {
            Wrong("data folder", $"{data} is not there. Start serve with --data {data} once, or name the right folder.");
            Roots([]);
            return _lines;
        }

        string? holder = DataFolder.HolderOf(data);
        Good("data folder", holder is null ? $"{data}; no application has it now" : $"{data}; {holder} has it");
        Rights();
        Room();
        string[] named = File.Exists(At(DataFolder.Database)) ? Database(holder is not null) : NoDatabase();
        Keys();
        Leftovers(holder is not null);
        Backups();
        Roots(named);
        return _lines;
    }

    private void Good(string what, string words) => _lines.Add(new DoctorLine(DoctorState.Good, what, words));

    private void Note(string what, string words) => _lines.Add(new DoctorLine(DoctorState.Note, what, words));

    private void Wrong(string what, string words) => _lines.Add(new DoctorLine(DoctorState.Wrong, what, words));

    private void Versions()
    {
        using var connection = new SqliteConnection("Data Source=:memory:");
        connection.Open();
        Version own = typeof(Doctor).Assembly.GetName().Version!;
        Good(
            "versions",
            $"Dune Crate {own.ToString(3)}, .NET {Environment.Version}, SQLite {StoreFile.Text(connection, "SELECT sqlite_version()")}"
        );
    }

    private string[] NoDatabase()
    {
        Wrong("database", $"{data} has no {DataFolder.Database}: no application has run on it. Name the folder that serve was given.");
        return [];
    }

    private void Rights()
    {
        foreach (string name in (string[])[DataFolder.Database, DataFolder.Keys])
        {
            UnixFileMode mode =
                File.Exists(At(name)) ? File.GetUnixFileMode(At(name))
                : Directory.Exists(At(name)) ? new DirectoryInfo(At(name)).UnixFileMode
                : 0;
            if ((mode & Others) != 0)
            {
                Wrong("rights", $"{At(name)} can be read by others than its owner. Run: chmod go-rwx {At(name)}");
                return;
            }
        }

        string probe = At($".doctor-{Environment.ProcessId}");
        try
        {
            File.WriteAllText(probe, "");
            File.Delete(probe);
            Good("rights", "the folder can be written, and only its owner reads database and keys");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            Wrong("rights", $"nothing can be written to {data}. Give its owner the right, and run doctor as the user that serve runs as.");
        }
    }

    private void Room()
    {
        long free = new DriveInfo(data).AvailableFreeSpace;
        string words = $"{ByteSize.Text(free)} are free on the disk of {data}";
        if (free < LittleRoom)
        {
            Wrong("room", $"{words}. Make room: checks and crates stop when the disk is full.");
        }
        else if (free < EnoughRoom)
        {
            Note("room", $"{words}, which is not much for crates");
        }
        else
        {
            Good("room", words);
        }
    }

    /// <summary>Examines the database.</summary>
    /// <returns>The roots that shots lie in.</returns>
    private string[] Database(bool isInUse)
    {
        string file = At(DataFolder.Database);
        try
        {
            using SqliteConnection connection = StoreFile.Open(file, SqliteOpenMode.ReadOnly);
            string? found = StoreFile.Text(connection, "PRAGMA integrity_check(1)");
            if (found != "ok")
            {
                Wrong("database", $"{file} is damaged ({found}). Bring the newest backup back: ./dune restore FILE --data NEW.");
                return [];
            }

            if (StoreFile.IsBehind(file))
            {
                Note("database", "it is of an older version; the next start keeps a backup and brings it up to date");
                return [];
            }

            using DuneCrateContext context = StoreFile.Context(connection);
            int shows = context.Shows.Count(),
                shots = context.Shots.Count();
            Good(
                "database",
                $"whole; {Words.Count(shows, "show")}, {Words.Count(shots, "shot")}, {ByteSize.Text(new FileInfo(file).Length)}"
            );
            (string? problem, long entries) = HistoryStore.Verify(context);
            problem ??= Anchored(context);
            if (problem is null)
            {
                Good("history", $"{Words.Number(entries)} entries, each follows from the one before");
            }
            else
            {
                Wrong("history", $"{problem}: somebody changed the database by other means. Compare it with a backup.");
            }

            int waiting = context.Checks.Count(c => c.State == JobState.Queued || c.State == JobState.Running),
                sealing = context.Crates.Count(c => c.State == JobState.Queued || c.State == JobState.Running);
            if (waiting + sealing > 0 && !isInUse)
            {
                Note(
                    "work",
                    $"{Words.Count(waiting, "check")} and {Words.Count(sealing, "crate")} were not done; the next start takes them up"
                );
            }

            int keepers = context.Users.Count(p => p.IsKeeper && p.ClosedAt == null);
            Good("people", $"{Words.Count(context.Users.Count(), "account")}, {Words.Count(keepers, "keeper")}");
            return [.. context.Shots.Where(s => s.Root != null && s.ArchivedAt == null).Select(s => s.Root!).Distinct()];
        }
        catch (SqliteException e)
        {
            Wrong("database", StoreFile.Foreseen(file, e).Message);
        }
        catch (StoreException e)
        {
            Wrong("database", e.Message);
        }

        return [];
    }

    /// <summary>What is wrong with the end of the history, in words, or null.</summary>
    private string? Anchored(DuneCrateContext context)
    {
        if (!File.Exists(At(HistoryAnchor.FileName)))
        {
            Note("end of history", "it is not signed yet; the next start signs it");
            return null;
        }

        string folder = At(DataFolder.Keys),
            former = Path.Combine(folder, "former"),
            own = Path.Combine(folder, InstallationKeys.PrivateFile);
        string[] files =
        [
            .. Directory.Exists(former) ? Directory.EnumerateFiles(former, "*.pem") : [],
            .. File.Exists(own) ? [own] : (string[])[],
        ];
        List<ECDsa> known = [];
        try
        {
            known.AddRange(files.Select(f => CrateSignature.Read(File.ReadAllText(f))));
            return HistoryAnchor.Problem(context, At(HistoryAnchor.FileName), known);
        }
        catch (FormatException)
        {
            return null; // The line about keys says so.
        }
        finally
        {
            known.ForEach(k => k.Dispose());
        }
    }

    private void Keys()
    {
        string file = Path.Combine(At(DataFolder.Keys), InstallationKeys.PrivateFile);
        if (!File.Exists(file))
        {
            Note("keys", "there is no key for crates yet; the next start makes one");
            return;
        }

        try
        {
            using ECDsa key = CrateSignature.Read(File.ReadAllText(file));
            Good("keys", $"crates are signed with {CrateSignature.Fingerprint(key)[..16]}");
        }
        catch (Exception e) when (e is FormatException or IOException or UnauthorizedAccessException)
        {
            Wrong("keys", $"{file} cannot be used: {e.Message.TrimEnd('.')}. Bring it back from a backup.");
        }
    }

    private void Leftovers(bool isInUse)
    {
        string[] left =
        [
            .. Directory
                .EnumerateFileSystemEntries(data)
                .Concat(Directory.Exists(At(DataFolder.Backups)) ? Directory.EnumerateFiles(At(DataFolder.Backups)) : [])
                .Concat(
                    Directory.Exists(At("crates"))
                        ? Directory.EnumerateDirectories(At("crates"), "*.partial", SearchOption.AllDirectories)
                        : []
                )
                .Where(e =>
                    e.EndsWith(".partial", StringComparison.Ordinal)
                    || e.EndsWith(".migrating", StringComparison.Ordinal)
                    || e.EndsWith(".restoring", StringComparison.Ordinal)
                ),
        ];
        if (left.Length > 0 && !isInUse)
        {
            Note(
                "leftover work",
                $"{left[0]}{(left.Length > 1 ? $" and {left.Length - 1} more" : "")} was left by a kill and can be deleted"
            );
        }
        else
        {
            Good("leftover work", left.Length > 0 ? "only what is being written now" : "none");
        }
    }

    private void Backups()
    {
        DateTime? newest = BackupPolicy.Newest(At(DataFolder.Backups));
        if (newest is { } at && clock.UtcNow - at < OldBackup)
        {
            Good("backups", string.Create(CultureInfo.InvariantCulture, $"the newest is of {at:yyyy-MM-dd HH:mm} UTC"));
        }
        else
        {
            Note(
                "backups",
                newest is { } old
                    ? string.Create(
                        CultureInfo.InvariantCulture,
                        $"the newest is of {old:yyyy-MM-dd}; the application makes one a day while it runs"
                    )
                    : "none yet; the application makes one a day while it runs, and ./dune backup makes one now"
            );
        }
    }

    /// <summary>The roots that were named, and those that shots lie in and nobody named.</summary>
    private void Roots(string[] used)
    {
        foreach ((string name, string folder) in roots)
        {
            try
            {
                int entries = Directory.EnumerateFileSystemEntries(folder).Take(1).Count();
                Good($"root {name}", $"{folder}{(entries == 0 ? "; it is empty" : "")}");
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                Wrong(
                    $"root {name}",
                    Directory.Exists(folder)
                        ? $"{folder} cannot be listed. Give the user that serve runs as the right to read it."
                        : $"{folder} is no folder. Mount the storage, or name the right one with --root {name}=DIR."
                );
            }
        }

        foreach (string name in used.Where(u => !roots.Keys.Contains(u, StringComparer.OrdinalIgnoreCase)))
        {
            string words = $"shots lie in it, and it was not named here; give --root {name}=DIR to have it examined";
            if (roots.Count > 0)
            {
                Wrong($"root {name}", words);
            }
            else
            {
                Note($"root {name}", words);
            }
        }
    }
}

using System.Globalization;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
using Microsoft.Data.Sqlite;

namespace DuneCrate.Store.Keeping;

/// <summary>
/// The database's own note of who works with it. The lock of the data folder is a file that can be deleted, and means nothing on storage
/// that other machines mount; this row goes wherever the database goes. It says that it is there every few seconds; a process that is gone
/// holds nothing.
/// </summary>
public sealed class StoreHold : IDisposable
{
    private static readonly TimeSpan Pace = TimeSpan.FromSeconds(10),
        Fresh = TimeSpan.FromSeconds(45);

    private readonly string _file;
    private readonly string _hold;
    private readonly TimeProvider _time;
    private readonly ITimer _timer;
    private readonly Lock _turn = new();

    private StoreHold(string file, string hold, TimeProvider time)
    {
        (_file, _hold, _time) = (file, hold, time);
        _timer = time.CreateTimer(_ => Renew(), null, Pace, Pace);
    }

    /// <summary>Takes a database that is up to date.</summary>
    /// <exception cref="IOException">Another process works with it; the message says which.</exception>
    public static StoreHold Take(string file, TimeProvider time)
    {
        string of = IdOf(file),
            hold = $"{of} {Guid.NewGuid():N}";
        using SqliteConnection connection = StoreFile.Open(file);
        using SqliteTransaction transaction = connection.BeginTransaction();
        using (SqliteCommand read = connection.CreateCommand())
        {
            read.CommandText = "SELECT Hold, Machine, Process, Started, Seen FROM holder";
            using SqliteDataReader row = read.ExecuteReader();
            if (
                row.Read()
                && row.GetString(0).StartsWith(of + " ", StringComparison.Ordinal)
                && IsThere(row.GetString(1), row.GetInt32(2), row.GetInt64(3), Time(row.GetString(4)), time.UtcNow)
            )
            {
                throw new IOException(
                    $"The database {file} is in use by process {row.GetInt32(2)} on {row.GetString(1)}. Stop that first, or name another "
                        + "folder with --data."
                );
            }
        }

        using SqliteCommand write = connection.CreateCommand();
        write.CommandText =
            "INSERT OR REPLACE INTO holder (Id, Hold, Machine, Process, Started, Seen) VALUES (1, $hold, $machine, "
            + "$process, $started, $seen)";
        write.Parameters.AddWithValue("$hold", hold);
        write.Parameters.AddWithValue("$machine", Environment.MachineName);
        write.Parameters.AddWithValue("$process", Environment.ProcessId);
        write.Parameters.AddWithValue("$started", StartOf(Environment.ProcessId) ?? 0);
        write.Parameters.AddWithValue("$seen", Text(time.UtcNow));
        write.ExecuteNonQuery();
        transaction.Commit();
        return new StoreHold(file, hold, time);
    }

    /// <summary>Takes whoever held a database out of a copy of it.</summary>
    internal static void Forget(SqliteConnection copy)
    {
        if (StoreFile.Text(copy, "SELECT name FROM sqlite_master WHERE name = 'holder'") is not null)
        {
            StoreFile.Text(copy, "DELETE FROM holder");
        }
    }

    /// <summary>Gives the database up.</summary>
    public void Dispose()
    {
        _timer.Dispose();
        Write("DELETE FROM holder WHERE Hold = $hold");
    }

    private void Renew() => Write("UPDATE holder SET Seen = $seen WHERE Hold = $hold");

    /// <summary>Writes when the disk lets it: what cannot be noted now is noted next time, and a process of this machine is known by its
    /// number anyway.</summary>
    private void Write(string sql)
    {
        lock (_turn)
        {
            try
            {
                using SqliteConnection connection = StoreFile.Open(_file, SqliteOpenMode.ReadWrite);
                using SqliteCommand write = connection.CreateCommand();
                write.CommandText = sql;
                write.Parameters.AddWithValue("$hold", _hold);
                if (sql.Contains("$seen", StringComparison.Ordinal))
                {
                    write.Parameters.AddWithValue("$seen", Text(_time.UtcNow));
                }

                write.ExecuteNonQuery();
            }
            catch (SqliteException) { }
        }
    }

    /// <summary>Which file a database is, so that a copy of it is another one.</summary>
    private static string IdOf(string file)
    {
        string full = Path.GetFullPath(file);
        FileStamp? stamp = StorageRoot.At(Path.GetDirectoryName(full)!).Top.At(Path.GetFileName(full)).Look();
        return string.Create(CultureInfo.InvariantCulture, $"{stamp?.Device:x}-{stamp?.Inode:x}");
    }

    /// <summary>Whether a holder is still there: on this machine by its process, on another by when it said so last.</summary>
    private static bool IsThere(string machine, int process, long started, DateTime seen, DateTime now) =>
        machine == Environment.MachineName ? StartOf(process) == started : (now - seen).Duration() < Fresh;

    /// <summary>When a process of this machine was started, in ticks since the machine was; null when it is gone. Source: proc(5),
    /// /proc/pid/stat, field 22.</summary>
    private static long? StartOf(int process)
    {
        try
        {
            string text = File.ReadAllText(string.Create(CultureInfo.InvariantCulture, $"/proc/{process}/stat"));
            string[] fields = text[(text.LastIndexOf(')') + 2)..].Split(' ');
            return fields[0] is "Z" or "X" ? null : long.Parse(fields[19], CultureInfo.InvariantCulture);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    private static string Text(DateTime time) => time.ToString("yyyy-MM-dd HH:mm:ss.FFFFFFF", CultureInfo.InvariantCulture);

    private static DateTime Time(string text) =>
        DateTime.Parse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal);
}

using DuneCrate.Shots;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.Time.Testing;

namespace DuneCrate.Web.Tests.Keeping;

/// <summary>Two processes never work with one database, whatever becomes of the lock of its folder.</summary>
public sealed class StoreHoldTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-hold-").FullName;
    private readonly FakeTimeProvider _clock = new(DateTimeOffset.UtcNow);

    private string Database => Path.Combine(_folder, DataFolder.Database);

    public StoreHoldTests() => StoreFile.Prepare(Database, TimeProvider.System);

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(_folder, recursive: true);
    }

    [Fact]
    public void A_second_application_is_refused_though_the_lock_of_the_folder_is_gone()
    {
        var app = DuneCrateApp.Build(ServeOptions.ForServe(_folder, 0, "127.0.0.1", []));
        File.Delete(Path.Combine(_folder, "dune-crate.lock"));
        string said = Assert.ThrowsAny<IOException>(() => DuneCrateApp.Build(ServeOptions.ForServe(_folder, 0, "127.0.0.1", []))).Message;
        Assert.Contains($"in use by process {Environment.ProcessId} on {Environment.MachineName}", said);
        ((IDisposable)app).Dispose();
        ((IDisposable)DuneCrateApp.Build(ServeOptions.ForServe(_folder, 0, "127.0.0.1", []))).Dispose();
    }

    [Fact]
    public void Another_machine_holds_it_for_as_long_as_it_says_so()
    {
        using (StoreHold.Take(Database, _clock))
        {
            Row("Machine = 'elsewhere'");
            Assert.ThrowsAny<IOException>(() => StoreHold.Take(Database, _clock));

            // It says that it is there, whichever way clocks jump: what is a day off is old, in the past or in the future.
            foreach (TimeSpan jump in (TimeSpan[])[TimeSpan.FromDays(1), TimeSpan.FromDays(-1)])
            {
                var other = new FakeTimeProvider(_clock.GetUtcNow() + jump);
                StoreHold.Take(Database, other).Dispose();
                using StoreHold again = StoreHold.Take(Database, _clock);
                Row("Machine = 'elsewhere'");
                Assert.ThrowsAny<IOException>(() => StoreHold.Take(Database, _clock));
            }
        }
    }

    [Fact]
    public void A_process_that_is_gone_holds_nothing()
    {
        using StoreHold held = StoreHold.Take(Database, _clock);
        Row("Process = 4194304, Started = 12345");
        StoreHold.Take(Database, _clock).Dispose();
    }

    [Fact]
    public void Another_process_with_the_number_of_one_that_is_gone_holds_nothing()
    {
        using StoreHold held = StoreHold.Take(Database, _clock);
        Row("Started = Started - 1");
        StoreHold.Take(Database, _clock).Dispose();
    }

    [Fact]
    public void A_copy_is_held_by_nobody()
    {
        using StoreHold held = StoreHold.Take(Database, _clock);
        SqliteConnection.ClearAllPools();
        string copy = Path.Combine(_folder, "copy.db");
        Tool.Run("sqlite3", Database, $"VACUUM INTO '{copy}'");
        StoreHold.Take(copy, _clock).Dispose();
        Backup.Make(_folder, Path.Combine(_folder, "kept.backup"));
        Assert.Equal("0", Tool.Run("sqlite3", Path.Combine(_folder, "kept.backup"), "SELECT count(*) FROM holder").Trim());
    }

    private void Row(string change) => Tool.Run("sqlite3", Database, $"UPDATE holder SET {change}");
}

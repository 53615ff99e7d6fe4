using System.Globalization;
using System.Text;
using DuneCrate.Foundation.History;
using DuneCrate.Imaging.Pictures.Notes;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Demo;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Store.Tests;

/// <summary>What the history says of a change is written in the change's own transaction: both are there, or neither.</summary>
public sealed class HistoryTogetherTests : IDisposable
{
    private const string Stack = """
        { "schema": "dune-crate.stack/1", "width": 8, "height": 8, "frameRate": "24/1", "frames": "1001-1002", "strips": [
          { "name": "plate", "source": "plate.####.exr", "channels": ["R", "G", "B"], "alpha": "none", "operation": "over" } ] }
        """;

    private static readonly AuditEvent Said = new("Ada Reed", HistoryKinds.Shows, "a change");

    /// <summary>Every audited change of a store, on the row of each table whose key is 1.</summary>
    private static readonly Dictionary<string, Func<IServiceProvider, Task>> Changes = new()
    {
        ["a new show"] = s =>
            Of<ShowStore>(s)
                .AddShowAsync(
                    new ShowRow
                    {
                        Code = "DUNE",
                        Name = "Dune",
                        FrameRate = "24/1",
                        Width = 64,
                        Height = 36,
                    },
                    Said
                ),
        ["a new shot"] = s => Of<ShowStore>(s).AddShotAsync("KELP", DemoShow.Shots[1].Plan, Said),
        ["a shot's folder"] = s => Of<ShowStore>(s).SetFolderAsync(1, "renders", "other", Said),
        ["a show's settings"] = s => Of<PlanStore>(s).SaveShowAsync(1, new ShowPlan { Code = "KELP", Name = "New" }, "25/1", 8, 8, Said),
        ["a confirmation"] = s => Of<PlanStore>(s).TickAsync(1, "the right camera", "Ada Reed", Said),
        ["a note on a picture"] = s => Of<PictureNoteStore>(s).AddPictureNoteAsync(1, Note, Said),
        ["an answer to a note"] = s =>
            Of<PictureNoteStore>(s).AnswerPictureNoteAsync(1, 1, new NoteAnswer("yes", "Ada Reed", DateTime.UnixEpoch), Said),
        ["a settled note"] = s => Of<PictureNoteStore>(s).SettlePictureNoteAsync(1, 1, "Ada Reed", Said),
        ["a new receiver"] = s => Of<ReceiverStore>(s).SaveReceiverAsync(Receiver("Wave Room"), Said),
        ["a receiver gone"] = s => Of<ReceiverStore>(s).RemoveReceiverAsync(1, 1, _ => Said),
        ["receivers moved"] = async s =>
        {
            List<ReceiverRow> all = await Of<ReceiverStore>(s).ReceiversAsync("KELP");
            all.ForEach(r => r.Recipe = "{}");
            await Of<ReceiverStore>(s).SaveReceiversAsync(all, Said);
        },
        ["a crate accepted"] = s => Of<ReceiverStore>(s).AcceptAsync(1, "Tide Room", Said),
        ["a crate sent back"] = s => Of<ReceiverStore>(s).SendBackAsync(Remark, Said),
        ["scene helpers"] = s => Of<HelperStore>(s).SaveHelpersAsync(Helpers(1), Said),
        ["scene helpers gone"] = s => Of<HelperStore>(s).RemoveHelpersAsync(1, Said),
        ["a stack gone"] = s => Of<StackStore>(s).DeleteStackAsync(1, 1, Said),
        ["what is kept"] = s => Of<UpkeepStore>(s).SaveUpkeepAsync(new UpkeepRow { ChecksKept = 7 }, Said),
        ["a folder granted"] = s => Of<ShowFolderStore>(s).GrantAsync(1, "renders", "more", Said),
        ["a folder taken back"] = s => Of<ShowFolderStore>(s).TakeBackAsync(1, 1, _ => Said),
        ["a shot in the archive"] = s => Of<ArchiveStore>(s).ArchiveShotAsync(1, true, Said),
        ["a show in the archive"] = s => Of<ArchiveStore>(s).ArchiveShowAsync(1, true, Said),
        ["a shot deleted"] = s => Of<ArchiveStore>(s).DeleteShotAsync(1, Said),
        ["a show deleted"] = s => Of<ArchiveStore>(s).DeleteShowAsync(1, Said),
        ["a crate sealed"] = s =>
            Of<CrateStore>(s).NoteSealedAsync(1, c => (c.Name, c.State) = ("KP010_crate_v001", JobState.Done), Said, "sealed"),
        ["a crate read back"] = s => Of<CrateStore>(s).NoteVerifiedAsync(1, "", Said, "read back"),
    };

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-together-").FullName;

    public static TheoryData<string> Names => [.. Changes.Keys];

    private static PictureNote Note => new("sub", "beauty", 1001, NoteShape.Point, 5, 5, 5, 5, "look", "Ada Reed", DateTime.UnixEpoch);

    private static CrateRemarkRow Remark =>
        new()
        {
            CrateId = 1,
            Layer = "",
            Pass = "",
            Frames = "",
            Words = "dark",
            By = "Tide Room",
            At = DateTime.UnixEpoch,
        };

    [Theory]
    [MemberData(nameof(Names))]
    public async Task A_change_that_the_history_refuses_leaves_nothing_behind(string name)
    {
        await using ServiceProvider services = await OpenAsync();
        IDbContextFactory<DuneCrateContext> contexts = Of<IDbContextFactory<DuneCrateContext>>(services);
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(TestContext.Current.CancellationToken);
        await RefuseAsync(context, "CREATE TRIGGER refused BEFORE INSERT ON history BEGIN SELECT RAISE(ABORT, 'refused'); END");
        string before = await DumpAsync(context);
        await Assert.ThrowsAnyAsync<DbUpdateException>(() => Changes[name](services));
        Assert.Equal(before, await DumpAsync(context));

        // And it is a change: with the history willing, something differs, the entry among it.
        await RefuseAsync(context, "DROP TRIGGER refused");
        await Changes[name](services);
        Assert.NotEqual(before, await DumpAsync(context));
        Assert.Equal(1, await context.History.CountAsync(h => h.Subject == Said.Subject, TestContext.Current.CancellationToken));
    }

    public void Dispose()
    {
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(_folder, recursive: true);
    }

    private static T Of<T>(IServiceProvider services)
        where T : notnull => services.GetRequiredService<T>();

    private static SceneHelpersRow Helpers(int id) =>
        new()
        {
            Id = id,
            ShotId = 1,
            Source = "helpers.csv",
            Table = "",
            Told = "",
            Chosen = "",
            By = "Ada Reed",
        };

    private static ReceiverRow Receiver(string name) =>
        new()
        {
            ShowId = 1,
            Name = name,
            Recipe = "",
        };

    private static Task RefuseAsync(DuneCrateContext context, string sql) =>
        context.Database.ExecuteSqlRawAsync(sql, TestContext.Current.CancellationToken);

    /// <summary>A show with a shot and one row of whatever the changes are about.</summary>
    private async Task<ServiceProvider> OpenAsync()
    {
        ServiceProvider services = new ServiceCollection().AddDuneCrateStore(Path.Combine(_folder, "dune-crate.db")).BuildServiceProvider();
        await Of<ShowStore>(services)
            .AddShowAsync(
                new ShowRow
                {
                    Code = "KELP",
                    Name = "The Kelp Post",
                    FrameRate = "24/1",
                    Width = 640,
                    Height = 360,
                }
            );
        await Of<ShowStore>(services).AddShotAsync("KELP", DemoShow.Shots[0].Plan);
        await Of<ShowFolderStore>(services).GrantAsync(1, "renders", "KP010");
        await Of<PictureNoteStore>(services).AddPictureNoteAsync(1, Note);
        await Of<ReceiverStore>(services).SaveReceiverAsync(Receiver("Tide Room"));
        await Of<HelperStore>(services).SaveHelpersAsync(Helpers(0));
        await Of<StackStore>(services).AddStackAsync(1, "first", StackRecipe.Read(Stack));
        await Of<CrateStore>(services).AddCrateAsync(1, "per-layer", "Ada Reed");
        return services;
    }

    /// <summary>Every row of every table.</summary>
    private static async Task<string> DumpAsync(DuneCrateContext context)
    {
        var text = new StringBuilder();
        foreach (string table in context.Model.GetEntityTypes().Select(t => t.GetTableName()!).Distinct().Order(StringComparer.Ordinal))
        {
            await using var command = context.Database.GetDbConnection().CreateCommand();
            await context.Database.OpenConnectionAsync();
            command.CommandText = $"SELECT * FROM \"{table}\"";
            await using var rows = await command.ExecuteReaderAsync();
            while (await rows.ReadAsync())
            {
                text.Append(table);
                for (int i = 0; i < rows.FieldCount; i++)
                {
                    object value = rows.GetValue(i);
                    text.Append('|')
                        .Append(value is byte[] bytes ? Convert.ToHexString(bytes) : Convert.ToString(value, CultureInfo.InvariantCulture));
                }

                text.AppendLine();
            }
        }

        return text.ToString();
    }
}

using DuneCrate.Checking.Intake;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.DependencyInjection.Extensions;

namespace DuneCrate.Store;

/// <summary>Puts the store into an application.</summary>
public static class StoreRegistration
{
    /// <summary>Makes the database file ready and registers it, the queries and the facts cache.</summary>
    /// <exception cref="StoreException">The file is damaged, no database, or newer than this program.</exception>
    public static IServiceCollection AddDuneCrateStore(this IServiceCollection services, string databaseFile, TimeProvider? clock = null)
    {
        clock ??= TimeProvider.System;
        services.AddSingleton(new UpgradeNote(StoreFile.Prepare(databaseFile, clock)));
        string connection = new SqliteConnectionStringBuilder { DataSource = databaseFile, DefaultTimeout = 30 }.ToString();
        services.AddDbContextFactory<DuneCrateContext>(o => o.UseSqlite(connection));
        services.AddLogging();
        services.TryAddSingleton(clock);
        services.AddSingleton<ShowStore>();
        services.AddSingleton<ArchiveStore>();
        services.AddSingleton<CheckStore>();
        services.AddSingleton<CrateStore>();
        services.AddSingleton<FindingStore>();
        services.AddSingleton<HelperStore>();
        services.AddSingleton<PictureNoteStore>();
        services.AddSingleton<ReceiverStore>();
        services.AddSingleton<StackStore>();
        services.AddSingleton<UpkeepStore>();
        services.AddSingleton<PlanStore>();
        services.AddSingleton<ShowFolderStore>();
        services.AddSingleton<HistoryStore>();
        services.AddSingleton<FactsStore>();
        services.AddSingleton<IFactsCache>(s => s.GetRequiredService<FactsStore>());
        return services;
    }
}

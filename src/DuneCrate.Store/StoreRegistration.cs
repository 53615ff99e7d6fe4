using DuneCrate.Core.Intake;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Store;

/// <summary>Puts the store into an application.</summary>
public static class StoreRegistration
{
    /// <summary>Registers the database file, the queries and the facts cache.</summary>
    public static IServiceCollection AddDuneCrateStore(this IServiceCollection services, string databaseFile)
    {
        services.AddDbContextFactory<DuneCrateContext>(o => o.UseSqlite($"Data Source={databaseFile};Default Timeout=30"));
        services.AddSingleton<ShowStore>();
        services.AddSingleton<PlanStore>();
        services.AddSingleton<FactsStore>();
        services.AddSingleton<IFactsCache>(s => s.GetRequiredService<FactsStore>());
        return services;
    }

    /// <summary>Brings the database up to date and into WAL mode.</summary>
    public static void MigrateDuneCrateStore(this IServiceProvider services)
    {
        using DuneCrateContext context = services.GetRequiredService<IDbContextFactory<DuneCrateContext>>().CreateDbContext();
        context.Database.Migrate();
        context.Database.ExecuteSqlRaw("PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL;");
    }
}

/// <summary>Lets the migration tool make a context; not used at run time.</summary>
internal sealed class DesignTimeContextFactory : IDesignTimeDbContextFactory<DuneCrateContext>
{
    public DuneCrateContext CreateDbContext(string[] args) => new(new DbContextOptionsBuilder<DuneCrateContext>().UseSqlite("Data Source=design.db").Options);
}

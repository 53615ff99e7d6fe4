using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>The database: SQLite in WAL mode, one file.</summary>
public sealed class DuneCrateContext(DbContextOptions<DuneCrateContext> options) : DbContext(options)
{
    /// <summary>Shows.</summary>
    public DbSet<ShowRow> Shows => Set<ShowRow>();

    /// <summary>Shots.</summary>
    public DbSet<ShotRow> Shots => Set<ShotRow>();

    /// <summary>Checks.</summary>
    public DbSet<CheckRow> Checks => Set<CheckRow>();

    /// <summary>Waivers.</summary>
    public DbSet<WaiverRow> Waivers => Set<WaiverRow>();

    /// <summary>Crates.</summary>
    public DbSet<CrateRow> Crates => Set<CrateRow>();

    /// <summary>Remembered facts.</summary>
    public DbSet<FactsRow> Facts => Set<FactsRow>();

    /// <inheritdoc/>
    protected override void OnModelCreating(ModelBuilder modelBuilder) => modelBuilder.ApplyConfigurationsFromAssembly(typeof(DuneCrateContext).Assembly);
}

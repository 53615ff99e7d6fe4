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

    /// <summary>Findings in somebody's hands.</summary>
    public DbSet<FindingNoteRow> FindingNotes => Set<FindingNoteRow>();

    /// <summary>Crates.</summary>
    public DbSet<CrateRow> Crates => Set<CrateRow>();

    /// <summary>Versions of plans.</summary>
    public DbSet<PlanRevisionRow> PlanRevisions => Set<PlanRevisionRow>();

    /// <summary>What was confirmed before renders.</summary>
    public DbSet<PreflightTickRow> PreflightTicks => Set<PreflightTickRow>();

    /// <summary>Plans that shows keep for new shots.</summary>
    public DbSet<PlanTemplateRow> PlanTemplates => Set<PlanTemplateRow>();

    /// <summary>Remembered facts.</summary>
    public DbSet<FactsRow> Facts => Set<FactsRow>();

    /// <summary>Folders with remembered facts.</summary>
    public DbSet<FactFolderRow> FactFolders => Set<FactFolderRow>();

    /// <summary>Headers that are alike.</summary>
    public DbSet<FactShapeRow> FactShapes => Set<FactShapeRow>();

    /// <inheritdoc/>
    protected override void OnModelCreating(ModelBuilder modelBuilder) => modelBuilder.ApplyConfigurationsFromAssembly(typeof(DuneCrateContext).Assembly);
}

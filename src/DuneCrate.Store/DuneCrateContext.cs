using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;

namespace DuneCrate.Store;

/// <summary>The database: SQLite in WAL mode, one file.</summary>
public sealed class DuneCrateContext(DbContextOptions<DuneCrateContext> options) : IdentityUserContext<PersonRow, int>(options)
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

    /// <summary>Notes on pictures.</summary>
    public DbSet<PictureNoteRow> PictureNotes => Set<PictureNoteRow>();

    /// <summary>Scene helpers.</summary>
    public DbSet<SceneHelpersRow> SceneHelpers => Set<SceneHelpersRow>();

    /// <summary>Test composites.</summary>
    public DbSet<StackRow> Stacks => Set<StackRow>();

    /// <summary>Crates.</summary>
    public DbSet<CrateRow> Crates => Set<CrateRow>();

    /// <summary>Who gets crates.</summary>
    public DbSet<ReceiverRow> Receivers => Set<ReceiverRow>();

    /// <summary>What was said of crates.</summary>
    public DbSet<CrateRemarkRow> CrateRemarks => Set<CrateRemarkRow>();

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

    /// <summary>Remembered rebuilds over several files.</summary>
    public DbSet<RebuildRow> Rebuilds => Set<RebuildRow>();

    /// <summary>How long what can be made anew is kept.</summary>
    public DbSet<UpkeepRow> Upkeep => Set<UpkeepRow>();

    /// <summary>Headers that are alike.</summary>
    public DbSet<FactShapeRow> FactShapes => Set<FactShapeRow>();

    /// <summary>What people are in shows.</summary>
    public DbSet<MembershipRow> Memberships => Set<MembershipRow>();

    /// <summary>Links to one crate.</summary>
    public DbSet<GuestLinkRow> GuestLinks => Set<GuestLinkRow>();

    /// <summary>Tokens of scripts.</summary>
    public DbSet<TokenRow> ScriptTokens => Set<TokenRow>();

    /// <summary>Who did what.</summary>
    public DbSet<HistoryRow> History => Set<HistoryRow>();

    /// <summary>Sessions that were signed out of.</summary>
    public DbSet<EndedSessionRow> EndedSessions => Set<EndedSessionRow>();

    /// <summary>Folders that belong to shows.</summary>
    public DbSet<ShowFolderRow> ShowFolders => Set<ShowFolderRow>();

    /// <summary>The process that works with the database.</summary>
    public DbSet<HolderRow> Holders => Set<HolderRow>();

    /// <summary>What is told to others.</summary>
    public DbSet<LetterRow> Letters => Set<LetterRow>();

    /// <inheritdoc/>
    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        base.OnModelCreating(modelBuilder);
        modelBuilder.Entity<IdentityUserClaim<int>>().ToTable("person_claims");
        modelBuilder.Entity<IdentityUserLogin<int>>().ToTable("person_logins");
        modelBuilder.Entity<IdentityUserToken<int>>().ToTable("person_tokens");
        modelBuilder.ApplyConfigurationsFromAssembly(typeof(DuneCrateContext).Assembly);
    }

    /// <inheritdoc/>
    protected override void ConfigureConventions(ModelConfigurationBuilder configurationBuilder) =>
        configurationBuilder.Properties<DateTime>().HaveConversion<UtcConverter>();

    /// <summary>Times are UTC, and say so when they are read.</summary>
    private sealed class UtcConverter() : ValueConverter<DateTime, DateTime>(t => t, t => DateTime.SpecifyKind(t, DateTimeKind.Utc));
}

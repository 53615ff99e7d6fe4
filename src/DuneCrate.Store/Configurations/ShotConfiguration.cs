using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class ShotConfiguration : IEntityTypeConfiguration<ShotRow>
{
    public void Configure(EntityTypeBuilder<ShotRow> builder)
    {
        builder.ToTable("shots");
        builder.HasIndex(s => new { s.ShowId, s.Code }).IsUnique();
        builder.Property(s => s.Revision).IsConcurrencyToken();
        builder.HasMany<CheckRow>().WithOne().HasForeignKey(c => c.ShotId);
        builder.HasMany<WaiverRow>().WithOne().HasForeignKey(w => w.ShotId);
        builder.HasMany<CrateRow>().WithOne().HasForeignKey(c => c.ShotId);
    }
}

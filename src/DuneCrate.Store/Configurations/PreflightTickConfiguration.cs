using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class PreflightTickConfiguration : IEntityTypeConfiguration<PreflightTickRow>
{
    public void Configure(EntityTypeBuilder<PreflightTickRow> builder)
    {
        builder.ToTable("preflight_ticks");
        builder.HasIndex(t => new { t.ShotId, t.Item }).IsUnique();
        builder.HasOne<ShotRow>().WithMany().HasForeignKey(t => t.ShotId);
    }
}

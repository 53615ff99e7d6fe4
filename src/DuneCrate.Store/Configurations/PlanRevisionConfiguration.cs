using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class PlanRevisionConfiguration : IEntityTypeConfiguration<PlanRevisionRow>
{
    public void Configure(EntityTypeBuilder<PlanRevisionRow> builder)
    {
        builder.ToTable("plan_revisions");
        builder.HasKey(r => new { r.ShotId, r.Revision });
        builder.Property(r => r.Kind).HasConversion<string>();
        builder.HasOne<ShotRow>().WithMany().HasForeignKey(r => r.ShotId);
    }
}

using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class CrateRemarkConfiguration : IEntityTypeConfiguration<CrateRemarkRow>
{
    public void Configure(EntityTypeBuilder<CrateRemarkRow> builder)
    {
        builder.ToTable("crate_remarks");
        builder.HasIndex(r => r.CrateId);
    }
}

using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class CheckConfiguration : IEntityTypeConfiguration<CheckRow>
{
    public void Configure(EntityTypeBuilder<CheckRow> builder)
    {
        builder.ToTable("checks");
        builder.Property(c => c.State).HasConversion<string>();
        builder.HasIndex(c => new { c.ShotId, c.State });
    }
}

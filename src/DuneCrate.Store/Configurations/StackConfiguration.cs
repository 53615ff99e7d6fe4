using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class StackConfiguration : IEntityTypeConfiguration<StackRow>
{
    public void Configure(EntityTypeBuilder<StackRow> builder)
    {
        builder.ToTable("stacks");
        builder.Property(s => s.Revision).IsConcurrencyToken();
        builder.HasIndex(s => new { s.ShotId, s.Name }).IsUnique();
    }
}

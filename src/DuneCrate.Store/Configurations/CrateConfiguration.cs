using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class CrateConfiguration : IEntityTypeConfiguration<CrateRow>
{
    public void Configure(EntityTypeBuilder<CrateRow> builder)
    {
        builder.ToTable("crates");
        builder.Property(c => c.State).HasConversion<string>();
    }
}

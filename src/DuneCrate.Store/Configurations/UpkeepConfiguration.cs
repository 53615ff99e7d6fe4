using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class UpkeepConfiguration : IEntityTypeConfiguration<UpkeepRow>
{
    public void Configure(EntityTypeBuilder<UpkeepRow> builder)
    {
        builder.ToTable("upkeep");
        builder.Property(u => u.Id).ValueGeneratedNever();
    }
}

using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class HolderConfiguration : IEntityTypeConfiguration<HolderRow>
{
    public void Configure(EntityTypeBuilder<HolderRow> builder)
    {
        builder.ToTable("holder");
        builder.Property(h => h.Id).ValueGeneratedNever();
    }
}

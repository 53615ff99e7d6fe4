using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class ShowConfiguration : IEntityTypeConfiguration<ShowRow>
{
    public void Configure(EntityTypeBuilder<ShowRow> builder)
    {
        builder.ToTable("shows");
        builder.HasIndex(s => s.Code).IsUnique();
        builder.HasMany(s => s.Shots).WithOne(s => s.Show).HasForeignKey(s => s.ShowId);
    }
}

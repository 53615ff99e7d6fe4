using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class HistoryConfiguration : IEntityTypeConfiguration<HistoryRow>
{
    public void Configure(EntityTypeBuilder<HistoryRow> builder)
    {
        builder.ToTable("history");
        builder.HasKey(h => h.Number);
        builder.Property(h => h.Number).ValueGeneratedNever();
        builder.HasIndex(h => new { h.Show, h.Shot });
        builder.HasIndex(h => h.At);
    }
}

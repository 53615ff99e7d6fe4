using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class FactShapeConfiguration : IEntityTypeConfiguration<FactShapeRow>
{
    public void Configure(EntityTypeBuilder<FactShapeRow> builder)
    {
        builder.ToTable("fact_shapes");
        builder.HasIndex(s => s.Hash);
    }
}

using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class RebuildConfiguration : IEntityTypeConfiguration<RebuildRow>
{
    public void Configure(EntityTypeBuilder<RebuildRow> builder)
    {
        builder.ToTable("rebuild_facts");
        builder.HasKey(r => r.Hash);
        builder.HasIndex(r => r.FolderId);
    }
}

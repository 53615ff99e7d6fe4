using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class FactsConfiguration : IEntityTypeConfiguration<FactsRow>
{
    public void Configure(EntityTypeBuilder<FactsRow> builder)
    {
        builder.ToTable("file_facts");
        builder.HasKey(f => new { f.FolderId, f.Name });
    }
}

internal sealed class FactFolderConfiguration : IEntityTypeConfiguration<FactFolderRow>
{
    public void Configure(EntityTypeBuilder<FactFolderRow> builder)
    {
        builder.ToTable("fact_folders");
        builder.HasIndex(f => f.Path).IsUnique();
    }
}

internal sealed class RebuildConfiguration : IEntityTypeConfiguration<RebuildRow>
{
    public void Configure(EntityTypeBuilder<RebuildRow> builder)
    {
        builder.ToTable("rebuild_facts");
        builder.HasKey(r => r.Hash);
        builder.HasIndex(r => r.FolderId);
    }
}

internal sealed class FactShapeConfiguration : IEntityTypeConfiguration<FactShapeRow>
{
    public void Configure(EntityTypeBuilder<FactShapeRow> builder)
    {
        builder.ToTable("fact_shapes");
        builder.HasIndex(s => s.Hash);
    }
}

using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class FactFolderConfiguration : IEntityTypeConfiguration<FactFolderRow>
{
    public void Configure(EntityTypeBuilder<FactFolderRow> builder)
    {
        builder.ToTable("fact_folders");
        builder.HasIndex(f => f.Path).IsUnique();
    }
}

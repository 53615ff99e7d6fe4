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

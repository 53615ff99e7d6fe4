using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class FindingNoteConfiguration : IEntityTypeConfiguration<FindingNoteRow>
{
    public void Configure(EntityTypeBuilder<FindingNoteRow> builder)
    {
        builder.ToTable("finding_notes");
        builder.HasIndex(n => n.ShotId);
    }
}

using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class PictureNoteConfiguration : IEntityTypeConfiguration<PictureNoteRow>
{
    public void Configure(EntityTypeBuilder<PictureNoteRow> builder)
    {
        builder.ToTable("picture_notes");
        builder.Property(n => n.Shape).HasConversion<string>();
        builder.HasIndex(n => n.ShotId);
    }
}

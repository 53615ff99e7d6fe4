using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class ShowFolderConfiguration : IEntityTypeConfiguration<ShowFolderRow>
{
    public void Configure(EntityTypeBuilder<ShowFolderRow> builder)
    {
        builder.ToTable("show_folders");
        builder
            .HasIndex(f => new
            {
                f.ShowId,
                f.Root,
                f.Folder,
            })
            .IsUnique();
    }
}

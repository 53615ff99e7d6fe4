using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class SceneHelpersConfiguration : IEntityTypeConfiguration<SceneHelpersRow>
{
    public void Configure(EntityTypeBuilder<SceneHelpersRow> builder)
    {
        builder.ToTable("scene_helpers");
        builder.HasIndex(h => h.ShotId).IsUnique();
    }
}

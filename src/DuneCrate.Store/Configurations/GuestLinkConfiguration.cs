using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class GuestLinkConfiguration : IEntityTypeConfiguration<GuestLinkRow>
{
    public void Configure(EntityTypeBuilder<GuestLinkRow> builder)
    {
        builder.ToTable("guest_links");
        builder.HasIndex(g => g.Hash).IsUnique();
    }
}

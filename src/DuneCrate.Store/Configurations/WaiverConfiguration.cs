using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class WaiverConfiguration : IEntityTypeConfiguration<WaiverRow>
{
    public void Configure(EntityTypeBuilder<WaiverRow> builder) => builder.ToTable("waivers");
}

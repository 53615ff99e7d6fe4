using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class ReceiverConfiguration : IEntityTypeConfiguration<ReceiverRow>
{
    public void Configure(EntityTypeBuilder<ReceiverRow> builder)
    {
        builder.ToTable("receivers");
        builder.HasIndex(r => new { r.ShowId, r.Name }).IsUnique();
        builder.HasOne<ShowRow>().WithMany().HasForeignKey(r => r.ShowId);
    }
}

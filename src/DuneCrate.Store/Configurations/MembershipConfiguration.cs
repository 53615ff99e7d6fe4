using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class MembershipConfiguration : IEntityTypeConfiguration<MembershipRow>
{
    public void Configure(EntityTypeBuilder<MembershipRow> builder)
    {
        builder.ToTable("memberships");
        builder.HasIndex(m => new { m.PersonId, m.ShowId }).IsUnique();
    }
}

using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class TokenConfiguration : IEntityTypeConfiguration<TokenRow>
{
    public void Configure(EntityTypeBuilder<TokenRow> builder)
    {
        builder.ToTable("tokens");
        builder.HasIndex(t => t.Hash).IsUnique();
    }
}

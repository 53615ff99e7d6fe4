using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class LetterConfiguration : IEntityTypeConfiguration<LetterRow>
{
    public void Configure(EntityTypeBuilder<LetterRow> builder)
    {
        builder.ToTable("letters");
        builder.HasIndex(l => l.NextAt);
    }
}

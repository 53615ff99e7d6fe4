using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class PersonConfiguration : IEntityTypeConfiguration<PersonRow>
{
    public void Configure(EntityTypeBuilder<PersonRow> builder) => builder.ToTable("people");
}

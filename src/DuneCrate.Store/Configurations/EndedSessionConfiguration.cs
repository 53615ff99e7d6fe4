using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class EndedSessionConfiguration : IEntityTypeConfiguration<EndedSessionRow>
{
    public void Configure(EntityTypeBuilder<EndedSessionRow> builder)
    {
        builder.ToTable("ended_sessions");
        builder.HasKey(s => s.Id);
    }
}

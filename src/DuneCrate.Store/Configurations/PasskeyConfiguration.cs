using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

/// <summary>As the framework's third schema version has it, whoever makes the context.</summary>
internal sealed class PasskeyConfiguration : IEntityTypeConfiguration<IdentityUserPasskey<int>>
{
    private const int MostIdBytes = 1024;

    public void Configure(EntityTypeBuilder<IdentityUserPasskey<int>> builder)
    {
        builder.ToTable("passkeys");
        builder.HasKey(p => p.CredentialId);
        builder.Property(p => p.CredentialId).HasMaxLength(MostIdBytes);
        builder.OwnsOne(p => p.Data).ToJson();
        builder.HasOne<PersonRow>().WithMany().HasForeignKey(p => p.UserId).IsRequired();
    }
}

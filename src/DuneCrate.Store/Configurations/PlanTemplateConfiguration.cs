using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DuneCrate.Store.Configurations;

internal sealed class PlanTemplateConfiguration : IEntityTypeConfiguration<PlanTemplateRow>
{
    public void Configure(EntityTypeBuilder<PlanTemplateRow> builder)
    {
        builder.ToTable("plan_templates");
        builder.HasIndex(t => new { t.ShowId, t.Name }).IsUnique();
        builder.HasOne<ShowRow>().WithMany().HasForeignKey(t => t.ShowId);
    }
}

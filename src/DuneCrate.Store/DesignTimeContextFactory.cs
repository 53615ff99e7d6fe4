using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace DuneCrate.Store;

/// <summary>Lets the migration tool make a context; not used at run time.</summary>
internal sealed class DesignTimeContextFactory : IDesignTimeDbContextFactory<DuneCrateContext>
{
    public DuneCrateContext CreateDbContext(string[] args) =>
        new(new DbContextOptionsBuilder<DuneCrateContext>().UseSqlite("Data Source=design.db").Options);
}

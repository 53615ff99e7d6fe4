using DuneCrate.Foundation.Documents;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Sheet;

/// <summary>
/// The pass sheet as a table: a line per pass that any layer plans, a column per layer, cells as <see cref="SheetCell"/> writes them.
/// </summary>
public static class SheetTable
{
    /// <summary>The passes that any layer plans, in the catalogue's order; members of a family in alphabetical order.</summary>
    public static IEnumerable<string> Rows(Plan plan)
    {
        string[] planned = [.. plan.Layers.SelectMany(l => l.AllPasses).Select(p => p.Pass).Distinct()];
        return plan
            .Catalogue.Passes.SelectMany(d => planned.Where(p => plan.Catalogue.Find(p) == d).Order(StringComparer.Ordinal))
            .Concat(planned.Where(p => plan.Catalogue.Find(p) is null));
    }

    /// <summary>The table, comma-separated as RFC 4180 has it.</summary>
    public static string Write(Plan plan) =>
        CsvText.Write(
            plan.Layers.Select(l => l.Name).Prepend("pass"),
            Rows(plan).Select(pass => plan.Layers.Select(l => PassSheet.Read(plan, l, pass).ToString()).Prepend(pass))
        );
}

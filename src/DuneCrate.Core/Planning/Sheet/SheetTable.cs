using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace DuneCrate.Core.Planning.Sheet;

/// <summary>The pass sheet as a table: a line per pass that any layer plans, a column per layer, cells as <see cref="SheetCell"/> writes them.</summary>
public static class SheetTable
{
    /// <summary>The passes that any layer plans, in the catalogue's order; members of a family in alphabetical order.</summary>
    public static IEnumerable<string> Rows(Plan plan)
    {
        string[] planned = [.. plan.Layers.SelectMany(l => l.AllPasses).Select(p => p.Pass).Distinct()];
        return plan.Catalogue.Passes.SelectMany(d => planned.Where(p => plan.Catalogue.Find(p) == d).Order(StringComparer.Ordinal))
            .Concat(planned.Where(p => plan.Catalogue.Find(p) is null));
    }

    /// <summary>The table, comma-separated as RFC 4180 has it.</summary>
    public static string Write(Plan plan)
    {
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        using (var csv = new CsvWriter(text, new CsvConfiguration(CultureInfo.InvariantCulture) { NewLine = "\n" }))
        {
            void Line(IEnumerable<string> fields)
            {
                foreach (string field in fields)
                {
                    csv.WriteField(field);
                }

                csv.NextRecord();
            }

            Line(plan.Layers.Select(l => l.Name).Prepend("pass"));
            foreach (string pass in Rows(plan))
            {
                Line(plan.Layers.Select(l => PassSheet.Read(plan, l, pass).ToString()).Prepend(pass));
            }
        }

        return text.ToString();
    }
}

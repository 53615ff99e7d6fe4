using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace DuneCrate.Foundation.Documents;

/// <summary>
/// Comma-separated values (RFC 4180) for spreadsheets. A cell that a spreadsheet would take for a formula gets an apostrophe before it,
/// which spreadsheets do not show; a number stays one. Control characters are shown and not written. Source: OWASP,
/// <em>CSV Injection</em>.
/// </summary>
public static class CsvText
{
    private const char Apostrophe = '\'';
    private static readonly char[] Formulas = ['=', '+', '-', '@', '\t', '\r', '\n', Apostrophe];

    /// <summary>A table with a line of heads.</summary>
    public static string Write(IEnumerable<string> heads, IEnumerable<IEnumerable<string?>> rows)
    {
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        using (var csv = new CsvWriter(text, new CsvConfiguration(CultureInfo.InvariantCulture) { NewLine = "\n" }))
        {
            foreach (IEnumerable<string?> row in rows.Prepend(heads))
            {
                foreach (string? field in row)
                {
                    csv.WriteField(Escaped(field is null ? null : VisibleText.Clean(field, keepsLines: true)));
                }

                csv.NextRecord();
            }
        }

        return text.ToString();
    }

    /// <summary>A cell as it was before it was escaped.</summary>
    public static string Plain(string field) => field is [Apostrophe, var first, ..] && Formulas.Contains(first) ? field[1..] : field;

    private static string? Escaped(string? field) =>
        field is [var first, ..] && Formulas.Contains(first) && !IsNumber(field) ? Apostrophe + field : field;

    /// <summary>Whether a cell is a number and nothing else: −2 is no formula, and other programs must be able to read it.</summary>
    private static bool IsNumber(string field) =>
        double.TryParse(
            field,
            NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint | NumberStyles.AllowExponent,
            CultureInfo.InvariantCulture,
            out double number
        ) && double.IsFinite(number);
}

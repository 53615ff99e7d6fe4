using System.Collections.Immutable;
using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Planning.Scene;

/// <summary>
/// The roster as a table for spreadsheets: columns name, kind, traits, id, colour, mask, behind, note, with a line of heads. Reads comma-,
/// semicolon- and tab-separated text, quoted as RFC 4180 has it; without heads the first columns are taken in that order.
/// </summary>
public static class RosterTable
{
    private static readonly string[] Heads = ["name", "kind", "traits", "id", "colour", "mask", "behind", "note"];

    /// <summary>The table, comma-separated.</summary>
    public static string Write(IEnumerable<SceneItem> items) => CsvText.Write(Heads, items.Select(i => Heads.Select(h => Text(i, h))));

    /// <summary>Reads a table.</summary>
    /// <exception cref="FormatException">A line cannot be read; the message names it.</exception>
    public static ImmutableArray<SceneItem> Read(string text)
    {
        var items = ImmutableArray.CreateBuilder<SceneItem>();
        string first = text.Split('\n', 2)[0];
        string delimiter =
            first.Contains('\t') ? "\t"
            : first.Contains(';') && !first.Contains(',') ? ";"
            : ",";
        using var csv = new CsvParser(
            new StringReader(text),
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Delimiter = delimiter,
                TrimOptions = TrimOptions.Trim,
                IgnoreBlankLines = true,
                BadDataFound = null,
            }
        );
        string[]? heads = null;
        while (csv.Read())
        {
            string[] fields = [.. (csv.Record ?? []).Select(CsvText.Plain)];
            if (csv.Row > RosterLimits.MaxItems + 1)
            {
                throw new FormatException($"The table has more than {RosterLimits.MaxItems:N0} lines. Leave out what no pass depends on.");
            }

            if (heads is null)
            {
                bool hasHeads = fields.Length > 0 && fields[0].Equals("name", StringComparison.OrdinalIgnoreCase);
                heads = hasHeads ? [.. fields.Select(f => f.ToLowerInvariant())] : Heads;
                if (hasHeads)
                {
                    continue;
                }
            }

            if (fields.Any(f => f.Length > 0))
            {
                items.Add(Item(heads, fields, csv.Row));
            }
        }

        return items.Select(i => i.Name).Distinct(StringComparer.OrdinalIgnoreCase).Count() == items.Count
            ? items.ToImmutable()
            : throw new FormatException(
                $"{items.GroupBy(i => i.Name, StringComparer.OrdinalIgnoreCase).First(g => g.Count() > 1).Key} stands twice in the table."
            );
    }

    /// <summary>The columns.</summary>
    public static IReadOnlyList<string> Columns => Heads;

    /// <summary>The text of an item in a column.</summary>
    public static string Text(SceneItem item, string column) =>
        column switch
        {
            "name" => item.Name,
            "kind" => Word(item.Kind),
            "traits" => string.Join(' ', item.Traits.Select(Word)),
            "id" => item.Id?.ToString(CultureInfo.InvariantCulture) ?? "",
            "colour" => item.Colour ?? "",
            "mask" => item.Mask ?? "",
            "behind" => item.Behind ?? "",
            "note" => item.Note ?? "",
            _ => throw new ArgumentException($"'{column}' is not a column of the roster."),
        };

    /// <summary>An item with another text in one column.</summary>
    /// <exception cref="FormatException">The text does not fit the column.</exception>
    public static SceneItem With(SceneItem item, string column, string text)
    {
        string[] fields = [.. Heads.Select(h => h == column ? text.Trim() : Text(item, h))];
        return Item(Heads, fields, 0) with { Extra = item.Extra };
    }

    /// <summary>The word for a kind or trait: cut out for CutOut.</summary>
    public static string Word<T>(T value)
        where T : struct, Enum =>
        string.Concat(
            value
                .ToString()
                .Select((c, i) => i > 0 && char.IsUpper(c) ? $"-{char.ToLowerInvariant(c)}" : char.ToLowerInvariant(c).ToString())
        );

    /// <summary>The kind or trait of a word, or null.</summary>
    public static T? Find<T>(string word)
        where T : struct, Enum =>
        Enum.GetValues<T>()
            .Cast<T?>()
            .FirstOrDefault(v =>
                Word(v!.Value).Replace("-", "", StringComparison.Ordinal)
                == word.ToLowerInvariant().Replace("-", "", StringComparison.Ordinal)
            );

    private static SceneItem Item(string[] heads, string[] fields, int row)
    {
        string? Field(string head) =>
            Array.IndexOf(heads, head) is >= 0 and int at && at < fields.Length && fields[at].Length > 0 ? fields[at] : null;
        string name = Field("name") ?? throw new FormatException(row > 0 ? $"Line {row} has no name." : "An item needs a name.");
        string at = row > 0 ? $"Line {row}, {name}" : name;
        ItemKind kind = Field("kind") is not { } word
            ? ItemKind.Object
            : Find<ItemKind>(word)
                ?? throw new FormatException(
                    $"{at}: '{word}' is not a kind; use {string.Join(", ", Enum.GetValues<ItemKind>().Select(Word))}."
                );
        var traits = (Field("traits") ?? "")
            .Split((char[])[' ', ',', '/'], StringSplitOptions.RemoveEmptyEntries)
            .Select(t =>
                Find<ItemTrait>(t)
                ?? throw new FormatException(
                    $"{at}: '{t}' is not a trait; use {string.Join(", ", Enum.GetValues<ItemTrait>().Select(Word))}."
                )
            );
        int? id =
            Field("id") is not { } number ? null
            : int.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out int parsed) ? parsed
            : throw new FormatException($"{at}: '{number}' is not an object id.");
        var item = new SceneItem
        {
            Name = name,
            Kind = kind,
            Traits = [.. traits.Distinct().Order()],
            Id = id,
            Colour = Field("colour") ?? Field("color"),
            Mask = Field("mask"),
            Behind = Field("behind"),
            Note = Field("note"),
        };
        return item.Problem is { } problem ? throw new FormatException(row > 0 ? $"Line {row}: {problem}" : problem) : item;
    }
}

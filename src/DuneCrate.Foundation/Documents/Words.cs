using System.Globalization;

namespace DuneCrate.Foundation.Documents;

/// <summary>Numbers, lists and names of choices as sentences need them, the same everywhere. Invariant culture; safe to share.</summary>
public static class Words
{
    /// <summary>A count with its noun: "1 file", "3,000 files", "2 copies".</summary>
    /// <param name="count">How many.</param>
    /// <param name="noun">The noun in the singular.</param>
    /// <param name="plural">The plural, when it is not the noun and an s.</param>
    public static string Count(long count, string noun, string? plural = null) =>
        string.Create(CultureInfo.InvariantCulture, $"{count:N0} {Plural(count, noun, plural)}");

    /// <summary>A whole number with thousands marked: "3,000".</summary>
    public static string Number(long value) => value.ToString("N0", CultureInfo.InvariantCulture);

    /// <summary>The noun alone, in the number that goes with a count.</summary>
    public static string Plural(long count, string noun, string? plural = null) => count == 1 ? noun : plural ?? noun + "s";

    /// <summary>"is" or "are".</summary>
    public static string Are(long count) => count == 1 ? "is" : "are";

    /// <summary>"it" or "them".</summary>
    public static string Them(long count) => count == 1 ? "it" : "them";

    /// <summary>Names in a sentence: "a", "a and b", "a, b and c", "a, b and 3 more".</summary>
    public static string List(IEnumerable<string> names)
    {
        string[] all = [.. names];
        return all.Length switch
        {
            0 => "",
            1 => all[0],
            <= 3 => $"{string.Join(", ", all[..^1])} and {all[^1]}",
            _ => $"{all[0]}, {all[1]} and {all.Length - 2} more",
        };
    }

    /// <summary>What one may choose, in a sentence, all of it: "a", "a or b", "a, b or c".</summary>
    public static string Choices(IEnumerable<string> names)
    {
        string[] all = [.. names];
        return all.Length < 2 ? string.Concat(all) : $"{string.Join(", ", all[..^1])} or {all[^1]}";
    }

    /// <summary>A share as a percentage with the digits that matter: "14.25 %".</summary>
    public static string Percent(double share) => string.Create(CultureInfo.InvariantCulture, $"{share * 100:0.##} %");

    /// <summary>A stretch of time in the unit that fits: "45 s", "12 min", "2.5 h".</summary>
    public static string Duration(TimeSpan time) =>
        time.TotalSeconds < 90 ? FormattableString.Invariant($"{Math.Ceiling(time.TotalSeconds):0} s")
        : time.TotalMinutes < 90 ? FormattableString.Invariant($"{Math.Ceiling(time.TotalMinutes):0} min")
        : FormattableString.Invariant($"{time.TotalHours:0.0} h");

    /// <summary>How long ago something was, in the unit that fits: "just now", "12 min ago", "yesterday", "3 days ago".</summary>
    public static string Age(TimeSpan age) =>
        age.TotalSeconds < 60 ? "just now"
        : age.TotalMinutes < 60 ? FormattableString.Invariant($"{age.TotalMinutes:0} min ago")
        : age.TotalHours < 24 ? FormattableString.Invariant($"{age.TotalHours:0} h ago")
        : age.TotalDays < 2 ? "yesterday"
        : FormattableString.Invariant($"{Math.Floor(age.TotalDays):N0} days ago");

    /// <summary>A value of an enumeration as people read it: "still being written" for StillBeingWritten.</summary>
    public static string Choice(Enum value) =>
        string.Concat(
            value.ToString().Select((c, i) => i > 0 && char.IsUpper(c) ? $" {char.ToLowerInvariant(c)}" : $"{char.ToLowerInvariant(c)}")
        );
}

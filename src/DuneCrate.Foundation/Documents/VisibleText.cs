using System.Globalization;
using System.Text;

namespace DuneCrate.Foundation.Documents;

/// <summary>
/// Text from files and people as it may stand on a terminal, in a table or on a page: what would move the cursor, change colours or turn
/// the reading direction is shown and not done.
/// </summary>
public static class VisibleText
{
    /// <summary>
    /// The text with every control and direction character shown as <c>\u001b</c>; line breaks stay when they are asked for.
    /// </summary>
    public static string Clean(string text, bool keepsLines = false)
    {
        if (!text.Any(c => IsHarmful(c, keepsLines)))
        {
            return text;
        }

        var clean = new StringBuilder();
        foreach (char c in text)
        {
            _ = IsHarmful(c, keepsLines) ? clean.Append(CultureInfo.InvariantCulture, $"\\u{(int)c:x4}") : clean.Append(c);
        }

        return clean.ToString();
    }

    /// <summary>Whether a character does something where it should be read; line breaks and tabs may stay.</summary>
    /// <param name="c">The character.</param>
    /// <param name="keepsLines">Whether they stay.</param>
    public static bool IsHarmful(int c, bool keepsLines) =>
        ((c is < 0x20 or (>= 0x7f and <= 0x9f)) && !(keepsLines && c is '\n' or '\r' or '\t'))
        || c is '\u061c' or (>= '\u200e' and <= '\u200f') or (>= '\u2028' and <= '\u202e') or (>= '\u2066' and <= '\u2069');
}

using System.Globalization;
using System.Text;

namespace DuneCrate.Core.Documents;

/// <summary>
/// Text from files and people as it may stand on a terminal: what would move the cursor, change colours or turn the reading direction is
/// shown and not done.
/// </summary>
public static class TerminalText
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

    private static bool IsHarmful(char c, bool keepsLines) =>
        (char.IsControl(c) && !(keepsLines && c is '\n' or '\t'))
        || c is '\u061c' or (>= '\u200e' and <= '\u200f') or (>= '\u2028' and <= '\u202e') or (>= '\u2066' and <= '\u2069');
}

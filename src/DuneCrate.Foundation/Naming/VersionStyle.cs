using System.Globalization;

namespace DuneCrate.Foundation.Naming;

/// <summary>How a show writes versions: a letter, then one 0 per digit; <c>v000</c> unless it says otherwise.</summary>
public static class VersionStyle
{
    /// <summary>The style that ships.</summary>
    public const string Usual = "v000";

    /// <summary>Whether a text is a style.</summary>
    public static bool IsStyle(string text) => text.Length is > 1 and < 9 && char.IsAsciiLetter(text[0]) && text[1..].All(c => c == '0');

    /// <summary>A version in a style: <c>v007</c>.</summary>
    public static string Write(string? style, int version) =>
        (style ?? Usual)[0] + version.ToString(CultureInfo.InvariantCulture).PadLeft((style ?? Usual).Length - 1, '0');

    /// <summary>What is wrong with a version token in a style, or null.</summary>
    public static string? Problem(string? style, string token) =>
        token.Length >= (style ?? Usual).Length && token[0] == (style ?? Usual)[0] && token[1..].All(char.IsAsciiDigit)
            ? null
            : $"'{token}' is not a version of this show; write it like {Write(style, 1)}.";
}

using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using System.Text;

namespace DuneCrate.Core.Naming;

/// <summary>
/// A pattern for relative file paths with <c>/</c>, made of text and the tokens <c>{show} {shot} {layer} {pass} {version} {frame}</c>.
/// Formats a path from values and reads the frame back out of a path. Immutable; safe to share between threads.
/// </summary>
public sealed class NameTemplate
{
    /// <summary>The tokens that a template may hold, without braces.</summary>
    public static readonly IReadOnlyList<string> Tokens = ["show", "shot", "layer", "pass", "version", "frame"];

    private const string ForbiddenInPaths = "\\:*?\"<>|";

    private readonly (string Text, bool IsToken)[] _pieces;

    private NameTemplate(string text, (string, bool)[] pieces)
    {
        Text = text;
        _pieces = pieces;
    }

    /// <summary>The template as written.</summary>
    public string Text { get; }

    /// <summary>Whether the template has a place for the frame number; without one it names a still.</summary>
    public bool HasFrame => Has("frame");

    /// <summary>Whether the template asks for one file per pass.</summary>
    public bool IsPerPass => Has("pass");

    private bool Has(string token) => _pieces.Any(p => p.IsToken && p.Text == token);

    /// <summary>Reads a template.</summary>
    /// <exception cref="FormatException">The text is no template; the message says why.</exception>
    public static NameTemplate Parse(string text) =>
        TryParse(text, out NameTemplate? template, out string? problem) ? template : throw new FormatException(problem);

    /// <summary>
    /// Reads a template, or says what is wrong: unknown tokens, open braces, an absolute or climbing path, characters that a
    /// file system will not take, or two places for the frame.
    /// </summary>
    public static bool TryParse(string? text, [NotNullWhen(true)] out NameTemplate? template, [NotNullWhen(false)] out string? problem)
    {
        template = null;
        text ??= "";
        var pieces = new List<(string, bool)>();
        int at = 0;
        while (at < text.Length)
        {
            int open = text.IndexOf('{', at);
            if (open < 0)
            {
                open = text.Length;
            }

            if (open > at)
            {
                pieces.Add((text[at..open], false));
            }

            if (open == text.Length)
            {
                break;
            }

            int close = text.IndexOf('}', open);
            string token = close < 0 ? "" : text[(open + 1)..close];
            if (!Tokens.Contains(token))
            {
                problem =
                    close < 0
                        ? "A brace is opened and not closed."
                        : $"{{{token}}} is not a token; use {string.Join(" ", Tokens.Select(t => $"{{{t}}}"))}.";
                return false;
            }

            pieces.Add((token, true));
            at = close + 1;
        }

        problem = Problem(text, pieces);
        template = problem is null ? new NameTemplate(text, [.. pieces]) : null;
        return problem is null;
    }

    private static string? Problem(string text, List<(string Text, bool IsToken)> pieces)
    {
        if (string.IsNullOrWhiteSpace(text))
        {
            return "The name template is empty; write for example {layer}/{shot}_{layer}.{frame}.exr.";
        }

        if (text.StartsWith('/') || text.Split('/').Any(s => s is "" or "." or ".."))
        {
            return "The template must be a path below the output folder, without empty, . or .. steps.";
        }

        char bad = pieces
            .Where(p => !p.IsToken)
            .SelectMany(p => p.Text)
            .FirstOrDefault(c => char.IsControl(c) || c == '}' || ForbiddenInPaths.Contains(c));
        if (bad != default)
        {
            return $"The character '{bad}' cannot stand in a file name that every system reads.";
        }

        return pieces.Count(p => p is ("frame", true)) > 1 ? "The template holds {frame} twice." : null;
    }

    /// <summary>The path with every token but the frame filled in; <c>{frame}</c> stays. Unknown values become empty.</summary>
    public FrameName Fill(IReadOnlyDictionary<string, string> values, int padding)
    {
        StringBuilder before = new(),
            after = new();
        bool seen = false;
        foreach ((string text, bool isToken) in _pieces)
        {
            if (isToken && text == "frame")
            {
                seen = true;
            }
            else
            {
                (seen ? after : before).Append(isToken ? values.GetValueOrDefault(text, "") : text);
            }
        }

        return new FrameName(before.ToString(), after.ToString(), seen ? padding : 0);
    }

    /// <summary>The template as written.</summary>
    public override string ToString() => Text;
}

/// <summary>
/// The name of a sequence or still: what stands before and after the frame number, and the digits of padding (0: a still,
/// whose name is <paramref name="Prefix"/> + <paramref name="Suffix"/>). A value; equal when all three are.
/// </summary>
/// <param name="Prefix">Path and text before the number, with <c>/</c>.</param>
/// <param name="Suffix">Text after the number, with the extension.</param>
/// <param name="Padding">Digits to which numbers are filled with zeros; 1 means unpadded.</param>
public readonly record struct FrameName(string Prefix, string Suffix, int Padding)
{
    /// <summary>The path of one frame. A negative number has its sign before the zeros: <c>-0005</c>.</summary>
    public string At(int frame) => Padding == 0 ? Prefix + Suffix : Prefix + Number(frame, Padding) + Suffix;

    /// <summary>The frame in a path of this name, with the digits it was written with; null when the path is another's.</summary>
    public (int Frame, int Digits)? Match(string path)
    {
        if (
            path.Length <= Prefix.Length + Suffix.Length
            || !path.StartsWith(Prefix, StringComparison.Ordinal)
            || !path.EndsWith(Suffix, StringComparison.Ordinal)
        )
        {
            return null;
        }

        ReadOnlySpan<char> number = path.AsSpan(Prefix.Length, path.Length - Prefix.Length - Suffix.Length);
        return IsNumber(number) && int.TryParse(number, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out int frame)
            ? (frame, number[0] == '-' ? number.Length - 1 : number.Length)
            : null;
    }

    /// <summary>The form for people, with one <c>#</c> per digit of padding: <c>sub/KP010_sub.####.exr</c>.</summary>
    public override string ToString() => Prefix + new string('#', Padding) + Suffix;

    /// <summary>Digits that the widest frame of a range needs; the sign does not count.</summary>
    public static int DigitsFor(int frame) => Math.Abs((long)frame).ToString(CultureInfo.InvariantCulture).Length;

    /// <summary>A frame number filled with zeros to at least <paramref name="padding"/> digits.</summary>
    public static string Number(int frame, int padding) =>
        (frame < 0 ? "-" : "") + Math.Abs((long)frame).ToString(CultureInfo.InvariantCulture).PadLeft(padding, '0');

    internal static bool IsNumber(ReadOnlySpan<char> text)
    {
        ReadOnlySpan<char> digits = text is ['-', ..] ? text[1..] : text;
        return !digits.IsEmpty && digits.IndexOfAnyExceptInRange('0', '9') < 0;
    }
}

using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;

namespace DuneCrate.Foundation.Naming;

/// <summary>
/// A pattern for relative file paths with <c>/</c>, made of text and the tokens <c>{show} {shot} {layer} {pass} {version} {frame}</c>.
/// Formats a path from values and reads the frame back out of a path. Immutable; safe to share between threads.
/// </summary>
public sealed partial class NameTemplate
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

    /// <summary>
    /// A text in which the place of the frame is given as <c>####</c> or <c>%04d</c>, as other programs do, with <c>{frame}</c> in its
    /// place.
    /// </summary>
    /// <param name="text">A template as somebody wrote it.</param>
    /// <returns>The template, and the digits that its frame place asks for; null when it asks for none.</returns>
    public static (string Template, int? Padding) WithFrameToken(string text)
    {
        if (text.Contains("{frame}", StringComparison.Ordinal) || FramePlace().Matches(text) is not [var place])
        {
            return (text, null);
        }

        int digits =
            place.ValueSpan[0] == '#' ? place.Length
            : place.Groups["digits"].Success ? int.Parse(place.Groups["digits"].ValueSpan, CultureInfo.InvariantCulture)
            : 1;
        return ($"{text[..place.Index]}{{frame}}{text[(place.Index + place.Length)..]}", digits);
    }

    [GeneratedRegex("#+|%(0(?<digits>[1-9]))?d")]
    private static partial Regex FramePlace();

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
    /// <param name="text">The text.</param>
    /// <param name="template">The template, or null.</param>
    /// <param name="problem">What is wrong, or null.</param>
    /// <param name="tokens">The tokens that it may hold; null for <see cref="Tokens"/>.</param>
    public static bool TryParse(
        string? text,
        [NotNullWhen(true)] out NameTemplate? template,
        [NotNullWhen(false)] out string? problem,
        IReadOnlyList<string>? tokens = null
    )
    {
        tokens ??= Tokens;
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
            if (!tokens.Contains(token))
            {
                problem =
                    close < 0
                        ? "A brace is opened and not closed."
                        : $"{{{token}}} is not a token; use {string.Join(" ", tokens.Select(t => $"{{{t}}}"))}.";
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

        if (pieces.Where(p => !p.IsToken).Select(p => ForbiddenIn(p.Text)).FirstOrDefault(c => c is not null) is { } bad)
        {
            return $"The character '{bad}' cannot stand in a file name that every system reads.";
        }

        return pieces.Count(p => p is ("frame", true)) > 1 ? "The template holds {frame} twice." : null;
    }

    /// <summary>Why a text cannot stand in a path, so that the two make a sentence without a stop; or null.</summary>
    public static string? CharacterProblem(string text) =>
        ForbiddenIn(text) is { } bad ? $"has the character '{bad}', which cannot stand in a file name that every system reads" : null;

    private static char? ForbiddenIn(string text) =>
        text.FirstOrDefault(c => char.IsControl(c) || c == '}' || ForbiddenInPaths.Contains(c)) is var bad and not default(char)
            ? bad
            : null;

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

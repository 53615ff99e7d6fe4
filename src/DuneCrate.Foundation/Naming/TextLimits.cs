namespace DuneCrate.Foundation.Naming;

/// <summary>How long texts may be that people type or files bring, and what names may hold.</summary>
public static class TextLimits
{
    /// <summary>What is wrong with a code or layer name that goes into paths, or null.</summary>
    public static string? NameProblem(string? name) =>
        string.IsNullOrWhiteSpace(name) ? "A name is needed."
        : name.Length > NameLength ? $"A name may have at most {NameLength} characters."
        : name.Any(c => !(char.IsAsciiLetterOrDigit(c) || c is '_' or '-'))
            ? $"'{name}' cannot be a name: it may hold letters, digits, _ and - only, since it goes into file names."
        : null;

    /// <summary>Letters of a code or name that goes into file names.</summary>
    public const int NameLength = 64;

    /// <summary>Letters of a name for people, of a camera, a colour space, a setting's value or a person.</summary>
    public const int WordsLength = 120;

    /// <summary>Letters of a name template.</summary>
    public const int TemplateLength = 400;

    /// <summary>Letters of a note, a remark or a reason.</summary>
    public const int NoteLength = 1_000;

    /// <summary>What is wrong with a text for people, or null.</summary>
    /// <param name="what">What it is, to begin the sentence with.</param>
    /// <param name="text">The text; null is none.</param>
    /// <param name="most">Letters that it may have.</param>
    public static string? Problem(string what, string? text, int most = WordsLength) =>
        text is null ? null
        : text.Length > most ? $"{what} has {text.Length} characters; at most {most} fit."
        : text.Any(c => char.IsControl(c) && c is not ('\n' or '\r' or '\t')) ? $"{what} holds a control character; type it anew."
        : null;
}

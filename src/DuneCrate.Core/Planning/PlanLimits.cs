namespace DuneCrate.Core.Planning;

/// <summary>How much a plan may hold, and how long its texts may be: more than anybody needs, little enough that nothing takes long.</summary>
public static class PlanLimits
{
    /// <summary>Pixels that a side may have.</summary>
    public const int MaxSide = 65536;

    /// <summary>Most frames of a shot: eleven hours at 24 a second.</summary>
    public const int MaxFrames = 1_000_000;

    /// <summary>Most files of a shot: frames of all outputs together.</summary>
    public const long MaxFiles = 50_000_000;

    /// <summary>Most pixels of overscan on one side.</summary>
    public const int MaxOverscan = 8192;

    /// <summary>Digits that padding may have.</summary>
    public const int MaxPadding = 12;

    /// <summary>Render layers of a shot.</summary>
    public const int MaxLayers = 256;

    /// <summary>Outputs of all layers together.</summary>
    public const int MaxOutputs = 5_000;

    /// <summary>Passes of all layers together.</summary>
    public const int MaxPasses = 20_000;

    /// <summary>Channels of a pass.</summary>
    public const int MaxChannels = 256;

    /// <summary>Items of a scene, and rows of a table that is brought in.</summary>
    public const int MaxItems = 10_000;

    /// <summary>Nodes of a scene file.</summary>
    public const int MaxNodes = 200_000;

    /// <summary>Changes for a layer, render settings, masks of a pass, lines of a show's lists.</summary>
    public const int MaxEntries = 1_000;

    /// <summary>Cells that are written at once.</summary>
    public const int MaxCells = 50_000;

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
    public static string? TextProblem(string what, string? text, int most = WordsLength) =>
        text is null ? null
        : text.Length > most ? $"{what} has {text.Length} characters; at most {most} fit."
        : text.Any(c => char.IsControl(c) && c is not ('\n' or '\r' or '\t')) ? $"{what} holds a control character; type it anew."
        : null;
}

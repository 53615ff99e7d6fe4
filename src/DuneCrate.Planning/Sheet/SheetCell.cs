using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Planning.Sheet;

/// <summary>
/// One cell of the pass sheet: how a layer plans a pass. Its text is what a spreadsheet holds and what is copied and pasted: words in any
/// order, such as <c>half</c>, <c>off float data</c>, <c>half lead</c>, <c>float own edge=0.5 frames=1001-1010</c>. The default value is a
/// pass that is not planned, written as an empty text.
/// </summary>
public readonly record struct SheetCell
{
    /// <summary>Whether the pass is planned, off or not.</summary>
    public bool IsPlanned { get; init; }

    /// <summary>Whether it is kept and not rendered now.</summary>
    public bool IsOff { get; init; }

    /// <summary>Type of all its channels; null for the catalogue's.</summary>
    public ChannelType? Type { get; init; }

    /// <summary>The file it stands in; null for where its kind usually goes.</summary>
    public PassHome? Home { get; init; }

    /// <summary>Whether it stands for the layer.</summary>
    public bool IsLead { get; init; }

    /// <summary>Whether samples are filtered; null for the catalogue's answer.</summary>
    public bool? Filtered { get; init; }

    /// <summary>Coverage (0..1) from which on a soft edge counts as surface; null when not said.</summary>
    public double? Threshold { get; init; }

    /// <summary>For distances: the nearest there should be, in scene units; null when not said.</summary>
    public double? Near { get; init; }

    /// <summary>For distances: the farthest there should be, in scene units; null when not said.</summary>
    public double? Far { get; init; }

    /// <summary>Whether it has an alpha channel; null for the usual.</summary>
    public bool? Alpha { get; init; }

    /// <summary>Its own frames; null for its file's.</summary>
    public FrameSet? Frames { get; init; }

    /// <summary>A pass planned as the catalogue has it.</summary>
    public static SheetCell Planned => new() { IsPlanned = true };

    /// <summary>
    /// Reads a cell's text, or says what is wrong with it. Nothing, a dot and a dash mean not planned; x and yes mean planned as usual.
    /// </summary>
    public static bool TryParse(string? text, out SheetCell cell, [NotNullWhen(false)] out string? problem)
    {
        cell = default;
        problem = null;
        string[] words = (text ?? "").Split((char[])[' ', '\t', '\u00a0'], StringSplitOptions.RemoveEmptyEntries);
        if (words.Length == 0 || words is ["·" or "-" or "–" or "no"])
        {
            return true;
        }

        cell = Planned;
        foreach (string word in words)
        {
            problem ??= Take(ref cell, word);
        }

        problem ??=
            cell is { Near: { } near, Far: { } far } && near >= far
                ? $"near={near.ToString(CultureInfo.InvariantCulture)} must be less than far={far.ToString(CultureInfo.InvariantCulture)}."
                : null;
        return problem is null;
    }

    private static string? Take(ref SheetCell cell, string word)
    {
        int equals = word.IndexOf('=');
        string value = equals < 0 ? "" : word[(equals + 1)..];
        switch (equals < 0 ? word.ToLowerInvariant() : word[..equals].ToLowerInvariant() + "=")
        {
            case "x" or "yes" or "✓":
                break;
            case "off":
                cell = cell with { IsOff = true };
                break;
            case "lead":
                cell = cell with { IsLead = true };
                break;
            case "shared":
                cell = cell with { Home = PassHome.Shared };
                break;
            case "data":
                cell = cell with { Home = PassHome.Data };
                break;
            case "own":
                cell = cell with { Home = PassHome.Own };
                break;
            case "filtered":
                cell = cell with { Filtered = true };
                break;
            case "unfiltered":
                cell = cell with { Filtered = false };
                break;
            case "alpha":
                cell = cell with { Alpha = true };
                break;
            case "noalpha":
                cell = cell with { Alpha = false };
                break;
            case "edge="
                when double.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out double edge) && edge is >= 0 and <= 1:
                cell = cell with { Threshold = edge };
                break;
            case "edge=":
                return $"'{word}': write the coverage from which on an edge counts as surface, from 0 to 1, such as edge=0.5.";
            case "near=" when Distance(value) is { } near:
                cell = cell with { Near = near };
                break;
            case "far=" when Distance(value) is { } far:
                cell = cell with { Far = far };
                break;
            case "near=" or "far=":
                return $"'{word}': write a distance from the camera in scene units, 0 or more, such as far=120.";
            case "frames=" when FrameSet.TryParse(value, out FrameSet? frames, out string? wrong):
                cell = cell with { Frames = frames.IsEmpty ? null : frames };
                break;
            case "frames=":
                FrameSet.TryParse(value, out _, out string? why);
                return why;
            default:
                if (ChannelTypes.Find(word.ToLowerInvariant()) is not { } type)
                {
                    return $"'{word}' means nothing in a cell; write for example half, float own, off, lead, edge=0.5 or frames=1001-1010.";
                }

                cell = cell with { Type = type };
                break;
        }

        return null;
    }

    private static double? Distance(string text) =>
        double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double distance)
        && double.IsFinite(distance)
        && distance >= 0
            ? distance
            : null;

    /// <summary>The text; read again it gives the same cell.</summary>
    public override string ToString()
    {
        if (!IsPlanned)
        {
            return "";
        }

        string?[] words =
        [
            IsOff ? "off" : null,
            Type?.Name(),
            Home?.ToString().ToLowerInvariant(),
            IsLead ? "lead" : null,
            Filtered switch
            {
                true => "filtered",
                false => "unfiltered",
                null => null,
            },
            Alpha switch
            {
                true => "alpha",
                false => "noalpha",
                null => null,
            },
            Threshold is { } edge ? string.Create(CultureInfo.InvariantCulture, $"edge={edge:0.###}") : null,
            Near is { } near ? string.Create(CultureInfo.InvariantCulture, $"near={near}") : null,
            Far is { } far ? string.Create(CultureInfo.InvariantCulture, $"far={far}") : null,
            Frames is { } frames ? $"frames={frames}" : null,
        ];
        string text = string.Join(' ', words.Where(w => w is not null));
        return text.Length > 0 ? text : "x";
    }
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Findings;

/// <summary>One difference that a rule found. Immutable.</summary>
public sealed record Finding
{
    /// <summary>The rule's id.</summary>
    public required string Rule { get; init; }

    /// <summary>Its weight.</summary>
    public required Severity Severity { get; init; }

    /// <summary>Name of the output or sequence: <c>sub/KP010_sub.####.exr</c>.</summary>
    public required string Output { get; init; }

    /// <summary>The layer, or null.</summary>
    public string? Layer { get; init; }

    /// <summary>The pass, or null when the whole file is meant.</summary>
    public string? Pass { get; init; }

    /// <summary>The frames; empty when the finding is about no single frame.</summary>
    public FrameSet Frames { get; init; } = FrameSet.Empty;

    /// <summary>What was expected, with units.</summary>
    public required string Expected { get; init; }

    /// <summary>What was found, with units.</summary>
    public required string Found { get; init; }

    /// <summary>A sentence a wrangler understands.</summary>
    public required string Message { get; init; }

    /// <summary>What to do, in words.</summary>
    public required string Remedy { get; init; }

    /// <summary>What to do, as a kind.</summary>
    public RemedyKind RemedyKind { get; init; }

    /// <summary>x and y of the pixel to look at, or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int[]? At { get; init; }

    /// <summary>What else is wrong only because of it, a sentence each; null for nothing.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<string>? Follows { get; init; }

    /// <summary>Who accepted it and why, or null.</summary>
    public WaiverNote? Waived { get; init; }

    /// <summary>Who has it in hand, or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public HandedNote? Handed { get; init; }

    /// <summary>A short key that stays the same while the finding does: for links and for comparing runs.</summary>
    [JsonIgnore]
    public string Key => $"{Rule}~{Output}~{Pass}~{Frames}";

    /// <summary>Whether it is about an output, or about a folder that the output lies in.</summary>
    public bool IsAbout(string output) => output == Output || output.StartsWith($"{Output}/", StringComparison.Ordinal);

    /// <summary>Whether it keeps a crate from being sealed.</summary>
    [JsonIgnore]
    public bool Blocks => Severity == Severity.Blocker && Waived is null;
}

using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Findings;

/// <summary>A finding that a named person accepts, with a reason. Output, layer, pass and frames narrow it down when given.</summary>
public sealed record Waiver
{
    /// <summary>The rule's id.</summary>
    public required string Rule { get; init; }

    /// <summary>The output, or null for any.</summary>
    public string? Output { get; init; }

    /// <summary>The layer, or null for any.</summary>
    public string? Layer { get; init; }

    /// <summary>The pass, or null for any.</summary>
    public string? Pass { get; init; }

    /// <summary>Frames that are accepted, or null for any. A finding with frames beyond them is not waived.</summary>
    public FrameSet? Frames { get; init; }

    /// <summary>Who accepts it.</summary>
    public required string By { get; init; }

    /// <summary>Why.</summary>
    public required string Reason { get; init; }

    /// <summary>Whether a finding is the one meant, or among those meant.</summary>
    public bool Covers(Finding finding) =>
        finding.Rule == Rule
        && (Output is null || Output == finding.Output)
        && (Layer is null || Layer == finding.Layer)
        && (Pass is null || Pass == finding.Pass)
        && (Frames is null || finding.Frames.Except(Frames).IsEmpty);
}

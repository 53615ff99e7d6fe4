using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace DuneCrate.Checking.Rebuild;

/// <summary>
/// How far the light passes are from the beauty in one frame, over all pixels and three colours; samples that are no numbers are left out.
/// </summary>
public sealed record RebuildFacts
{
    /// <summary>Mean of |beauty − sum| over the mean of |beauty|; 0 when both are black, 1 when only the beauty is.</summary>
    public double MeanResidual { get; init; }

    /// <summary>Share of pixels where some colour is off by more than 2 % of max(beauty, 0.05).</summary>
    public double OffShare { get; init; }

    /// <summary>Greatest |beauty − sum|, in scene-linear units.</summary>
    public double MaxResidual { get; init; }

    /// <summary>x and y of the greatest residual, or null when there is none.</summary>
    public int[]? Worst { get; init; }

    /// <summary>Why it is off; null where no pixel is, or where that was not asked yet.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public RebuildCause? Cause { get; init; }

    /// <summary>The terms.</summary>
    public ImmutableArray<RebuildTermFacts> Terms { get; init; } = [];

    /// <summary>The term that is most likely wrong, or null: a black one, or the one whose picture the residual resembles.</summary>
    public string? Guilty
    {
        get
        {
            RebuildTermFacts[] black = [.. Terms.Where(t => t.Mean == 0)];
            return black.Length == 1 ? black[0].Name : Terms.Where(t => Math.Abs(t.Likeness) > 0.6).MaxBy(t => Math.Abs(t.Likeness))?.Name;
        }
    }
}

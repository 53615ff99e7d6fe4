using System.Globalization;
using System.Text.Json.Serialization;

namespace DuneCrate.Checking.Rebuild;

/// <summary>Why light passes do not sum to the beauty, as far as the pixels tell.</summary>
/// <param name="Kind">What sort of cause.</param>
/// <param name="Term">The term that is at fault, or null.</param>
/// <param name="Gain">What the term must be multiplied by for the sum to come out, or null.</param>
/// <param name="Explains">Share of the residual's energy that the cause removes, 0 to 1.</param>
public sealed record RebuildCause(
    RebuildCauseKind Kind,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] string? Term,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] double? Gain,
    double Explains
)
{
    /// <summary>Stands between the names of two terms that are swapped.</summary>
    public const string Between = " and ";

    /// <summary>The frame sums.</summary>
    public static readonly RebuildCause None = new(RebuildCauseKind.Sums, null, null, 1);

    /// <summary>Nothing is known of why.</summary>
    public static readonly RebuildCause Unknown = new(RebuildCauseKind.Unknown, null, null, 0);

    /// <summary>The cause in a sentence without its point; null where there is nothing to say.</summary>
    [JsonIgnore]
    public string? Sentence =>
        Kind switch
        {
            RebuildCauseKind.MissingTerm => $"{Term} is black and its light is in the beauty",
            RebuildCauseKind.DoubledTerm when Gain < 0.25 => $"the light of {Term} is in another term already: {Share} of the residual "
                + "goes when it is left out",
            RebuildCauseKind.DoubledTerm => $"{Term} holds its light twice: {Share} of the residual goes when it is halved",
            RebuildCauseKind.ScaledTerm when Gain is { } gain and not 0 => string.Create(
                CultureInfo.InvariantCulture,
                $"{Term} is in at {1 / gain:0.##} of its light: {Share} of the residual goes when it is multiplied by {gain:0.##}"
            ),
            RebuildCauseKind.SwappedTerms => $"{Term} have each other's factors: {Share} of the residual goes when they are put back",
            RebuildCauseKind.MissingPass => "the beauty holds light that no term has",
            RebuildCauseKind.ViewTransform => $"the beauty went through a curve that the terms did not: {Share} of the residual is that",
            RebuildCauseKind.BeautyBlack => "the beauty is black",
            _ => null,
        };

    /// <summary>Whether a term is at fault; of swapped products both are.</summary>
    public bool Blames(string term) => Kind == RebuildCauseKind.SwappedTerms ? Term?.Split(Between).Contains(term) == true : Term == term;

    private string Share => string.Create(CultureInfo.InvariantCulture, $"{100 * Explains:0} %");
}

using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;

namespace DuneCrate.Imaging.Pictures.Notes;

/// <summary>Words about a place in the picture of a pass at a frame.</summary>
/// <param name="Layer">The layer.</param>
/// <param name="Pass">The pass.</param>
/// <param name="Frame">The frame.</param>
/// <param name="Shape">What is drawn.</param>
/// <param name="X">Column of its first point, a pixel in data window coordinates.</param>
/// <param name="Y">Line of its first point.</param>
/// <param name="EndX">Column of its second point; of a point the same.</param>
/// <param name="EndY">Line of its second point.</param>
/// <param name="Words">What is meant.</param>
/// <param name="By">Who wrote it.</param>
/// <param name="At">When, UTC.</param>
public sealed record PictureNote(
    string Layer,
    string Pass,
    int Frame,
    NoteShape Shape,
    int X,
    int Y,
    int EndX,
    int EndY,
    string Words,
    string By,
    DateTime At
)
{
    /// <summary>Answers, oldest first.</summary>
    public ImmutableArray<NoteAnswer> Answers { get; init; } = [];

    /// <summary>Who settled it; null while it is open.</summary>
    public string? SettledBy { get; init; }

    /// <summary>When it was settled, UTC; null while it is open.</summary>
    public DateTime? SettledAt { get; init; }

    /// <summary>Whether something is to be done about it.</summary>
    [JsonIgnore]
    public bool IsOpen => SettledBy is null;

    /// <summary>Where it is, in words: <c>pixel 812, 440</c> or <c>box 40 × 30 at 812, 440</c>.</summary>
    [JsonIgnore]
    public string Place =>
        Shape switch
        {
            NoteShape.Box => string.Create(
                CultureInfo.InvariantCulture,
                $"box {Math.Abs((long)EndX - X) + 1} × {Math.Abs((long)EndY - Y) + 1} at {Math.Min(X, EndX)}, {Math.Min(Y, EndY)}"
            ),
            NoteShape.Arrow => string.Create(CultureInfo.InvariantCulture, $"arrow to {EndX}, {EndY}"),
            _ => string.Create(CultureInfo.InvariantCulture, $"pixel {X}, {Y}"),
        };
}

using System.Text.Json.Serialization;

namespace DuneCrate.Checking.Comparing;

/// <summary>How far one channel of two pictures is apart, over the union of their data windows; samples that are not there are 0.</summary>
/// <param name="Name">Name of the channel.</param>
/// <param name="Max">The greatest difference of two samples that are numbers.</param>
/// <param name="Mean">The mean difference.</param>
/// <param name="Rms">The root of the mean square.</param>
/// <param name="Psnr">Peak signal to noise in dB for a peak of 1, 20 · log10(1 / rms); null when nothing differs.</param>
/// <param name="Off">Share of samples farther apart than the tolerance.</param>
/// <param name="Worst">x and y of the greatest difference; null when nothing differs.</param>
public sealed record ChannelDifference(
    string Name,
    double Max,
    double Mean,
    double Rms,
    double? Psnr,
    double Off,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.Never)] int[]? Worst
)
{
    /// <summary>Samples that are no number, or infinite, in one of the pictures alone.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public long Odd { get; init; }
}

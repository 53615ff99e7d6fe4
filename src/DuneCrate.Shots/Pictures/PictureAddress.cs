using System.Globalization;

namespace DuneCrate.Shots.Pictures;

/// <summary>A picture as an address names it.</summary>
/// <param name="Layer">The layer.</param>
/// <param name="Pass">The pass that says which file.</param>
/// <param name="Frame">The frame.</param>
public sealed record PictureAddress(string Layer, string Pass, int Frame)
{
    /// <summary>Channels of the file to be looked at instead of the pass's own, with commas; null for those.</summary>
    public string? Channels { get; init; }

    /// <summary>The part that has them, or null.</summary>
    public int? Part { get; init; }

    /// <summary>Where its frames lie, as <see cref="FrameSource.Key"/>; empty for the shot's folder.</summary>
    public string From { get; init; } = "";

    /// <summary>Layer, pass, frame, and where they lie when not in the shot's folder, with bars between; null for anything else.</summary>
    public static PictureAddress? Parse(string text)
    {
        string[] parts = text.Split('|');
        return parts.Length is 3 or 4 && int.TryParse(parts[2], CultureInfo.InvariantCulture, out int frame)
            ? new PictureAddress(parts[0], parts[1], frame) { From = parts.Length == 4 ? parts[3] : "" }
            : null;
    }

    /// <summary>In words, for messages.</summary>
    public override string ToString() => $"{Layer} {Pass} {Frame}{(From.Length > 0 ? $" of {From.Replace('/', ' ')}" : "")}";
}

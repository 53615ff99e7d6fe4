namespace DuneCrate.Core.Pictures;

/// <summary>How a pass is to be shown. Never changes what is stored.</summary>
public sealed record PictureSettings
{
    /// <summary>Exposure in stops; colour is multiplied by 2^stops before the view transform.</summary>
    public double Exposure { get; init; }

    /// <summary>One channel alone as grey: r, g, b or a; empty for all.</summary>
    public string Solo { get; init; } = "";

    /// <summary>For data: the value shown black; null for the least in the picture.</summary>
    public double? Near { get; init; }

    /// <summary>For data: the value shown white; null for the greatest in the picture.</summary>
    public double? Far { get; init; }
}

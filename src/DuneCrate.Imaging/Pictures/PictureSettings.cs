using DuneCrate.Imaging.Colour;

namespace DuneCrate.Imaging.Pictures;

/// <summary>How a pass is to be shown. Never changes what is stored.</summary>
public sealed record PictureSettings
{
    /// <summary>Exposure in stops; colour is multiplied by 2^stops before the view transform.</summary>
    public double Exposure { get; init; }

    /// <summary>What the display's value is raised to the inverse of.</summary>
    public double Gamma { get; init; } = 1;

    /// <summary>The view transform; null for what the pass's kind usually has.</summary>
    public PictureView? View { get; init; }

    /// <summary>One channel alone as grey: r, g, b or a; empty for all.</summary>
    public string Solo { get; init; } = "";

    /// <summary>The value shown black, of any pass; with it no view transform. Null for the least in the picture of data.</summary>
    public double? Near { get; init; }

    /// <summary>The value shown white. Null for the greatest in the picture, where data is shown.</summary>
    public double? Far { get; init; }

    /// <summary>What colour with alpha is laid over.</summary>
    public PictureGround Ground { get; init; }

    /// <summary>Whether colour is not multiplied by its alpha yet.</summary>
    public bool IsStraight { get; init; }

    /// <summary>What is shown of colour.</summary>
    public PictureMode Mode { get; init; }

    /// <summary>Samples that are drawn over.</summary>
    public PictureMarks Marks { get; init; }

    /// <summary>The limit of <see cref="PictureMarks.Above"/>.</summary>
    public float Limit { get; init; } = 1;

    /// <summary>The colour's own primaries; it is taken to the display's by a matrix. Null for the display's.</summary>
    public Primaries? Primaries { get; init; }
}

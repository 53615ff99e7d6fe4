namespace DuneCrate.Imaging.Pictures;

/// <summary>How scene-linear colour becomes what a display shows.</summary>
public enum PictureView
{
    /// <summary>IEC 61966-2-1.</summary>
    Srgb,

    /// <summary>The camera curve of Rec. ITU-R BT.709.</summary>
    Rec709,

    /// <summary>
    /// Printing density of film in ten bits: white 685, black 95, 0.002 density a step, gamma 0.6 (common practice; first described by
    /// G. Kennel and D. Snider in the SMPTE Journal, 1993, from memory).
    /// </summary>
    Log,

    /// <summary>Nothing is done.</summary>
    Plain,
}

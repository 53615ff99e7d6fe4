namespace DuneCrate.Imaging.Pictures;

/// <summary>Samples that are drawn over by a pattern.</summary>
[Flags]
public enum PictureMarks
{
    /// <summary>None but those that are no numbers, which always stand out.</summary>
    None = 0,

    /// <summary>Below 0.</summary>
    Negative = 1,

    /// <summary>Above a limit.</summary>
    Above = 2,
}

namespace DuneCrate.Crates.Slimming;

/// <summary>What could go from a crate without loss.</summary>
public enum SavingKind
{
    /// <summary>Passes whose every sample is 0 in every frame.</summary>
    Empty,

    /// <summary>Borders in which every sample is 0.</summary>
    Window,

    /// <summary>Another lossless compression.</summary>
    Compression,

    /// <summary>Floats that hold only what halves hold.</summary>
    Half,

    /// <summary>Frames that are the same as the one before.</summary>
    Same,
}

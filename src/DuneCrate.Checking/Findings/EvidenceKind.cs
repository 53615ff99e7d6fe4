namespace DuneCrate.Checking.Findings;

/// <summary>Which pictures show what a finding means.</summary>
public enum EvidenceKind
{
    /// <summary>None: no pixel shows it.</summary>
    None,

    /// <summary>The frame, or the pixels in question.</summary>
    Frame,

    /// <summary>The frame and the one before it.</summary>
    Pair,

    /// <summary>What the sum of the light passes lacks of the beauty.</summary>
    Residual,
}

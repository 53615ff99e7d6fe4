namespace DuneCrate.Checking.Findings;

/// <summary>What is known of one frame of an output, worst last.</summary>
public enum FrameState
{
    /// <summary>Planned and not looked for yet.</summary>
    Pending,

    /// <summary>There, and nothing found.</summary>
    Good,

    /// <summary>There, and something else was found than what is asked for.</summary>
    Other,

    /// <summary>There, and not planned.</summary>
    Unplanned,

    /// <summary>Still being written.</summary>
    Settling,

    /// <summary>A warning: a person must look.</summary>
    Suspect,

    /// <summary>A blocker: whole, and not what was planned.</summary>
    Wrong,

    /// <summary>A blocker: the file or its pixels are broken.</summary>
    Damaged,

    /// <summary>Planned and not there.</summary>
    Missing,
}

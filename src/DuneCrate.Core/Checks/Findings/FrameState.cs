namespace DuneCrate.Core.Checks.Findings;

/// <summary>What is known of one frame of an output, worst last.</summary>
public enum FrameState
{
    /// <summary>Planned and not looked for yet.</summary>
    Pending,

    /// <summary>There, and nothing found.</summary>
    Good,

    /// <summary>There, and not planned.</summary>
    Unplanned,

    /// <summary>Still being written.</summary>
    Settling,

    /// <summary>A warning: a person must look.</summary>
    Suspect,

    /// <summary>A blocker: unusable as it is.</summary>
    Damaged,

    /// <summary>Planned and not there.</summary>
    Missing,
}

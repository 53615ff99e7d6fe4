namespace DuneCrate.StandIns.Farm;

/// <summary>How a job stands.</summary>
public enum FarmState
{
    /// <summary>Waiting for the jobs before it.</summary>
    Waiting,

    /// <summary>Being rendered.</summary>
    Rendering,

    /// <summary>Held back by a person.</summary>
    Paused,

    /// <summary>Done.</summary>
    Done,

    /// <summary>Given up by a person. Frames that were written stay.</summary>
    Cancelled,

    /// <summary>The machine failed. Frames that were written stay.</summary>
    Failed,
}

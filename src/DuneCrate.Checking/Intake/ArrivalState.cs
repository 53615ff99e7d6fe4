namespace DuneCrate.Checking.Intake;

/// <summary>How a layer's arrival stands.</summary>
public enum ArrivalState
{
    /// <summary>No file yet.</summary>
    Waiting,

    /// <summary>Files keep coming.</summary>
    Arriving,

    /// <summary>Files are missing and none has come for much longer than usual.</summary>
    Stalled,

    /// <summary>Some are missing, and nothing has come for so long that nothing is expected.</summary>
    Partial,

    /// <summary>Every planned file is there.</summary>
    Complete,
}

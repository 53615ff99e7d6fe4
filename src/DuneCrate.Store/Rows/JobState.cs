namespace DuneCrate.Store.Rows;

/// <summary>States of background work.</summary>
public enum JobState
{
    /// <summary>Queued.</summary>
    Queued,

    /// <summary>Running.</summary>
    Running,

    /// <summary>Finished.</summary>
    Done,

    /// <summary>Stopped by a person; can be resumed.</summary>
    Stopped,

    /// <summary>Put off by a person: what was done so far is kept, and it can go on.</summary>
    Paused,

    /// <summary>Could not be done; the problem says why.</summary>
    Failed,
}

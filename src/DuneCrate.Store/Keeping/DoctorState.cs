namespace DuneCrate.Store.Keeping;

/// <summary>How something about an installation is.</summary>
public enum DoctorState
{
    /// <summary>As it must be.</summary>
    Good,

    /// <summary>To be known; nothing is wrong.</summary>
    Note,

    /// <summary>Wrong, with what to do.</summary>
    Wrong,
}

namespace DuneCrate.Shots.Views;

/// <summary>How a station stands.</summary>
public enum StationState
{
    /// <summary>Nothing yet.</summary>
    Open,

    /// <summary>Something is there, or something is wrong.</summary>
    Begun,

    /// <summary>Done.</summary>
    Done,
}

namespace DuneCrate.Shots.Views;

/// <summary>One stop of the station strip.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Description">Count or state in a few words.</param>
/// <param name="State">How it stands.</param>
public sealed record Station(string Name, string Description, StationState State)
{
    /// <summary>Last part of its address.</summary>
    public string Slug => Name.ToLowerInvariant();
}

namespace DuneCrate.Shots.Planning;

/// <summary>Who makes a change: the browser, and what its user calls themselves.</summary>
public sealed record Editor(string Session, string Name)
{
    /// <summary>Name, in the history, of whoever works without an account and never said a name.</summary>
    public const string Unnamed = "the person at this machine";
}

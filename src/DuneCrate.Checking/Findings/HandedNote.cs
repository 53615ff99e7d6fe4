namespace DuneCrate.Checking.Findings;

/// <summary>Who has a finding in hand, who handed it over, when (UTC), and the note that went with it.</summary>
public sealed record HandedNote(string To, string By, string Note, DateTime At);

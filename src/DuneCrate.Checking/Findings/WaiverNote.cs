namespace DuneCrate.Checking.Findings;

/// <summary>Who accepted a finding and why.</summary>
public sealed record WaiverNote(string By, string Reason);

namespace DuneCrate.Checking.Findings;

/// <summary>
/// A finding that was handed to a person with a note. It stays with them while rule, output and pass do, whatever becomes of its frames.
/// </summary>
/// <param name="Rule">The rule's id.</param>
/// <param name="Output">The output.</param>
/// <param name="Pass">The pass, or null.</param>
/// <param name="To">Who has it now.</param>
/// <param name="By">Who handed it over.</param>
/// <param name="Note">What they wrote.</param>
/// <param name="At">When, UTC.</param>
public sealed record FindingNote(string Rule, string Output, string? Pass, string To, string By, string Note, DateTime At)
{
    /// <summary>Whether it is about a finding.</summary>
    public bool Covers(Finding finding) => finding.Rule == Rule && finding.Output == Output && finding.Pass == Pass;
}

namespace DuneCrate.Core.Pictures.Notes;

/// <summary>What somebody answered to a note.</summary>
/// <param name="Words">The answer.</param>
/// <param name="By">Who wrote it.</param>
/// <param name="At">When, UTC.</param>
public sealed record NoteAnswer(string Words, string By, DateTime At);

namespace DuneCrate.Web.Api.Answers;

/// <summary>The crates of a shot.</summary>
/// <param name="Crates">Newest first.</param>
internal sealed record CratesAnswer(IReadOnlyList<CrateState> Crates);

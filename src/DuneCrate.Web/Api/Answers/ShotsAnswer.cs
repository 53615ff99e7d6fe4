namespace DuneCrate.Web.Api.Answers;

/// <summary>The shots of a show that are worked on.</summary>
/// <param name="Show">Its code.</param>
/// <param name="Shots">Their codes.</param>
internal sealed record ShotsAnswer(string Show, IReadOnlyList<string> Shots);

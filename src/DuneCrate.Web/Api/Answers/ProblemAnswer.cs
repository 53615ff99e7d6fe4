namespace DuneCrate.Web.Api.Answers;

/// <summary>Why something was refused.</summary>
/// <param name="Problem">What is wrong, and what to do.</param>
internal sealed record ProblemAnswer(string Problem);

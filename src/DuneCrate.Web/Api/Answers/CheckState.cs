namespace DuneCrate.Web.Api.Answers;

/// <summary>How far a check is.</summary>
/// <param name="Check">Its number.</param>
/// <param name="State">Queued, running, done, stopped or failed.</param>
/// <param name="Doing">What is being done now, or null.</param>
/// <param name="Problem">Why it failed, or null.</param>
internal sealed record CheckState(int Check, string State, string? Doing, string? Problem);

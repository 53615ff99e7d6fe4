namespace DuneCrate.Web.Api.Answers;

/// <summary>A check that was asked for.</summary>
/// <param name="Check">Its number.</param>
internal sealed record CheckBegun(int Check);

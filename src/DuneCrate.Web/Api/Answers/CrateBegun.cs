namespace DuneCrate.Web.Api.Answers;

/// <summary>A crate, or a reading of it, that was asked for.</summary>
/// <param name="Crate">Its number.</param>
internal sealed record CrateBegun(int Crate);

namespace DuneCrate.Web.Api.Answers;

/// <summary>Whether the application can work.</summary>
/// <param name="Ready">Whether all of it is good.</param>
/// <param name="Database">What is the matter with the database, or good.</param>
/// <param name="Room">What is the matter with the disk, or good.</param>
internal sealed record Readiness(bool Ready, string Database, string Room);

namespace DuneCrate.Core.Crates.Recipes;

/// <summary>Where crates stand at a place that gets them.</summary>
/// <param name="Site">Name of the place.</param>
/// <param name="Prefix">What stands before a crate's own paths there, such as <c>T:/in/kelp</c>.</param>
public sealed record RecipeSite(string Site, string Prefix);

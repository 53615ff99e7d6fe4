using DuneCrate.Planning.Scene;

namespace DuneCrate.Crates;

/// <summary>A camera, light, locator or plane that lies in a crate.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Moves">Whether it moves.</param>
public sealed record CrateHelper(string Name, ItemKind Kind, bool Moves);

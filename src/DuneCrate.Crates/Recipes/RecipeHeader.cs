namespace DuneCrate.Crates.Recipes;

/// <summary>What is written into headers that lack it.</summary>
/// <param name="FrameRate">The shot's frame rate.</param>
/// <param name="Camera">The shot's render camera.</param>
/// <param name="ColourSpace">The show's colour space, as a name and as chromaticities, where colour is.</param>
public sealed record RecipeHeader(bool FrameRate = false, bool Camera = false, bool ColourSpace = false);

using DuneCrate.Imaging.Stacking;

namespace DuneCrate.Store;

/// <summary>A test composite as it is kept.</summary>
/// <param name="Id">Its key.</param>
/// <param name="Name">Its name.</param>
/// <param name="Recipe">What it is made of.</param>
/// <param name="Revision">Raised by every change.</param>
/// <param name="Undoes">Changes that can be undone.</param>
/// <param name="Redoes">Changes that can be done again.</param>
public sealed record KeptStack(int Id, string Name, StackRecipe Recipe, int Revision, int Undoes, int Redoes);

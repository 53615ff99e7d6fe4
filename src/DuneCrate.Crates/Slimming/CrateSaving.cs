using DuneCrate.Crates.Recipes;

namespace DuneCrate.Crates.Slimming;

/// <summary>Something that could go without loss.</summary>
/// <param name="Kind">What sort of thing.</param>
/// <param name="What">What could go and why nothing is lost, a sentence.</param>
/// <param name="Bytes">About how many bytes it saves.</param>
/// <param name="With">The recipe with which it goes; null where only another plan would save it.</param>
public sealed record CrateSaving(SavingKind Kind, string What, long Bytes, CrateRecipe? With);

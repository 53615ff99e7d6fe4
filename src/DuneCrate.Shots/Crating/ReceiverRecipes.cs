using DuneCrate.Crates.Recipes;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Crating;

/// <summary>Recipes of receivers.</summary>
public static class ReceiverRecipes
{
    /// <summary>What a receiver wants; one that cannot be read any more wants nothing in particular.</summary>
    public static CrateRecipe Wants(this ReceiverRow row)
    {
        try
        {
            return CrateRecipe.Read(row.Recipe);
        }
        catch (FormatException)
        {
            return CrateRecipe.AsItIs;
        }
    }
}

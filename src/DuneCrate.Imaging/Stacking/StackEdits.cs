using DuneCrate.Foundation.Naming;

namespace DuneCrate.Imaging.Stacking;

/// <summary>Changes to a composite. Places count from 0 at the bottom.</summary>
public static class StackEdits
{
    /// <summary>Puts a strip in.</summary>
    /// <param name="recipe">The composite.</param>
    /// <param name="strip">The strip.</param>
    /// <param name="at">Its place; beyond the top it comes on top.</param>
    public static StackRecipe With(this StackRecipe recipe, StackStrip strip, int at = int.MaxValue)
    {
        List<StackStrip> strips = [.. recipe.Strips];
        strips.Insert(
            Math.Clamp(at, 0, strips.Count),
            strip with
            {
                Name = FreeName.Of(strip.Name, recipe.Strips.Select(s => s.Name).ToHashSet()),
            }
        );
        return recipe with { Strips = [.. strips] };
    }

    /// <summary>Changes a strip.</summary>
    public static StackRecipe Changed(this StackRecipe recipe, int at, Func<StackStrip, StackStrip> change) =>
        recipe with
        {
            Strips = [.. recipe.Strips.Select((s, i) => i == at ? change(s) : s)],
        };

    /// <summary>Takes a strip out; the last one stays.</summary>
    public static StackRecipe Without(this StackRecipe recipe, int at) =>
        recipe.Strips.Length == 1 ? recipe : recipe with { Strips = [.. recipe.Strips.Where((_, i) => i != at)] };

    /// <summary>Moves a strip to another place.</summary>
    public static StackRecipe Moved(this StackRecipe recipe, int from, int to)
    {
        if (from < 0 || from >= recipe.Strips.Length)
        {
            return recipe;
        }

        List<StackStrip> strips = [.. recipe.Strips];
        StackStrip strip = strips[from];
        strips.RemoveAt(from);
        strips.Insert(Math.Clamp(to, 0, strips.Count), strip);
        return recipe with { Strips = [.. strips] };
    }
}

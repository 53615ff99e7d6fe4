using System.Globalization;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Web.Stations.Crating;

/// <summary>What a receiver wants, in a sentence.</summary>
public static class RecipeWords
{
    /// <summary>The sentence.</summary>
    public static string Of(CrateRecipe recipe)
    {
        string[] wishes = [.. Wishes(recipe)];
        return wishes.Length == 0 ? "Wants files as they are." : $"Wants {string.Join("; ", wishes)}.";
    }

    private static IEnumerable<string> Wishes(CrateRecipe recipe)
    {
        string? files = recipe.Files switch
        {
            RecipeFiles.PerPass => "a file per pass",
            RecipeFiles.PerLayer => "one file per layer",
            RecipeFiles.Parts => "one file per layer with a part per pass",
            _ => null,
        };
        if (files is not null)
        {
            yield return files;
        }

        if (recipe.Compression is { } compression)
        {
            yield return $"compression {compression}";
        }

        foreach (IGrouping<ChannelType, PassKind> types in (recipe.Types ?? []).GroupBy(t => t.Value, t => t.Key))
        {
            yield return $"{Words.List(types.Select(k => Words.Choice(k)))} as {types.Key.Name()}";
        }

        if (recipe.FirstFrame is { } first)
        {
            yield return string.Create(CultureInfo.InvariantCulture, $"frames from {first} on");
        }

        if (recipe.Window != RecipeWindow.AsItIs)
        {
            yield return recipe.Window == RecipeWindow.Display ? "the display window alone" : "no empty borders";
        }

        if (recipe.Alpha is { } alpha)
        {
            yield return $"{Words.Choice(alpha)} colour";
        }

        if (recipe.Only is { } only)
        {
            yield return $"only {Words.List(only)}";
        }

        if (recipe.Drop is { } drop)
        {
            yield return $"no {Words.List(drop)}";
        }

        if (recipe.Header is not null)
        {
            yield return "headers that say what they lacked";
        }
    }
}

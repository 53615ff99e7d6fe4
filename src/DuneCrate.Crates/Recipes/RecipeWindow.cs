using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Crates.Recipes;

/// <summary>Which pixels are stored.</summary>
[JsonConverter(typeof(EnumNames<RecipeWindow>))]
public enum RecipeWindow
{
    /// <summary>Those that were rendered.</summary>
    [JsonStringEnumMemberName("as-it-is")]
    AsItIs,

    /// <summary>Those of the display window: overscan goes, what lacks becomes 0.</summary>
    [JsonStringEnumMemberName("display")]
    Display,

    /// <summary>The least box that holds every sample that is not 0.</summary>
    [JsonStringEnumMemberName("content")]
    Content,
}

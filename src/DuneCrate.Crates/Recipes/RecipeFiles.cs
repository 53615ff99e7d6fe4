using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Crates.Recipes;

/// <summary>How passes are put into files.</summary>
[JsonConverter(typeof(EnumNames<RecipeFiles>))]
public enum RecipeFiles
{
    /// <summary>As they were rendered.</summary>
    [JsonStringEnumMemberName("as-they-are")]
    AsTheyAre,

    /// <summary>A file per pass.</summary>
    [JsonStringEnumMemberName("per-pass")]
    PerPass,

    /// <summary>One multi-channel file per layer.</summary>
    [JsonStringEnumMemberName("per-layer")]
    PerLayer,

    /// <summary>One file per layer with a part per pass.</summary>
    [JsonStringEnumMemberName("parts")]
    Parts,
}

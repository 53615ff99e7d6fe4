using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace DuneCrate.Planning.Scene;

/// <summary>What a scene holds, as far as passes depend on it.</summary>
public sealed record SceneRoster
{
    /// <summary>The items, in the order people gave them.</summary>
    public ImmutableArray<SceneItem> Items { get; init; } = [];

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}

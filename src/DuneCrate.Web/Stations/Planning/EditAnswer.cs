using System.Text.Json.Serialization;
using DuneCrate.Web.Stations.Planning.Grids;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>What a page is told of its change.</summary>
public sealed record EditAnswer
{
    /// <summary>The plan's revision with the change; null when it was not made.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int? Revision { get; init; }

    /// <summary>What was done, in words.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Said { get; init; }

    /// <summary>Where a change cannot be made.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Field { get; init; }

    /// <summary>Why it was not made.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Problem { get; init; }

    /// <summary>The grid as it is now.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public GridModel? Model { get; init; }
}

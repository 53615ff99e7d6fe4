using System.Text.Json.Serialization;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake;

/// <summary>One channel. Statistics are null at header depth and where pixels could not be read.</summary>
public sealed record ChannelFacts
{
    /// <summary>Full name in the file.</summary>
    public required string Name { get; init; }

    /// <summary>The name in the file, where <see cref="Name"/> is the one that the plan gives it; otherwise null.</summary>
    [JsonIgnore]
    public string? StoredAs { get; init; }

    /// <summary>Sample type.</summary>
    public required ChannelType Type { get; init; }

    /// <summary>The pass it belongs to by name, or null.</summary>
    public string? Pass { get; init; }

    /// <summary>Statistics.</summary>
    public SampleStatistics? Samples { get; init; }
}

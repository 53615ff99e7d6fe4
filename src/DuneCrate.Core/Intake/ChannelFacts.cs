using DuneCrate.Core.Images.Statistics;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Intake;

/// <summary>One channel. Statistics are null at header depth and where pixels could not be read.</summary>
public sealed record ChannelFacts
{
    /// <summary>Full name in the file.</summary>
    public required string Name { get; init; }

    /// <summary>Sample type.</summary>
    public required ChannelType Type { get; init; }

    /// <summary>The pass it belongs to by name, or null.</summary>
    public string? Pass { get; init; }

    /// <summary>Statistics.</summary>
    public SampleStatistics? Samples { get; init; }
}

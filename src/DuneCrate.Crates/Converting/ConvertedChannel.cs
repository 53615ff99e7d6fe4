using DuneCrate.Foundation.Passes;

namespace DuneCrate.Crates.Converting;

/// <summary>A channel of a file that is made, and where it comes from.</summary>
/// <param name="Source">Number of the file it comes from.</param>
/// <param name="Part">Number of the part there.</param>
/// <param name="From">Its name there.</param>
/// <param name="Name">Its new name.</param>
/// <param name="Type">Its new type; null for its own.</param>
/// <param name="Step">What is done to it with its alpha.</param>
/// <param name="Alpha">Name of that alpha in the same part; null when nothing is done.</param>
public sealed record ConvertedChannel(
    int Source,
    int Part,
    string From,
    string Name,
    ChannelType? Type = null,
    AlphaStep Step = AlphaStep.None,
    string? Alpha = null
);

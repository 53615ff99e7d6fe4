using System.Collections.Immutable;

namespace DuneCrate.Crates.Converting;

/// <summary>A part of a file that is made. The header of the first channel's source is carried on.</summary>
/// <param name="Name">Its name; null for the only part of a file.</param>
/// <param name="Channels">Its channels.</param>
public sealed record ConvertedPart(string? Name, ImmutableArray<ConvertedChannel> Channels);

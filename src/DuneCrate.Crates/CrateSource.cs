using System.Collections.Immutable;

namespace DuneCrate.Crates;

/// <summary>A rendered file that a crate's file comes from.</summary>
/// <param name="Path">Path below the folder.</param>
/// <param name="Bytes">Size.</param>
/// <param name="Content">XXH3 (128 bit) of what was checked; empty when pixels were not read.</param>
public sealed record CrateSource(string Path, long Bytes, ImmutableArray<byte> Content);

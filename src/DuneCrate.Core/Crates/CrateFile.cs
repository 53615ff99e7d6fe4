using System.Collections.Immutable;

namespace DuneCrate.Core.Crates;

/// <summary>One file that goes into a crate.</summary>
/// <param name="From">Path below the folder it comes from.</param>
/// <param name="To">Path in the crate.</param>
/// <param name="Bytes">Size.</param>
/// <param name="Frame">Its frame.</param>
/// <param name="Content">XXH3 (128 bit) of what was checked; empty when pixels were not read.</param>
public sealed record CrateFile(string From, string To, long Bytes, int Frame, ImmutableArray<byte> Content);

using System.Collections.Immutable;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates;

/// <summary>Which passes of a layer sum to its beauty.</summary>
public sealed record CrateRebuild(string Layer, ImmutableArray<RebuildTerm> Terms);

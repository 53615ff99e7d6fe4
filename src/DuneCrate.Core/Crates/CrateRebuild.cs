using System.Collections.Immutable;
using DuneCrate.Core.Planning.Model;

namespace DuneCrate.Core.Crates;

/// <summary>Which passes of a layer sum to its beauty.</summary>
public sealed record CrateRebuild(string Layer, ImmutableArray<RebuildTerm> Terms);

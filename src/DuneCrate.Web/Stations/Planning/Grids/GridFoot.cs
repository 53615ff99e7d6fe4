using System.Collections.Immutable;

namespace DuneCrate.Web.Stations.Planning.Grids;

/// <summary>A line below a grid.</summary>
public sealed record GridFoot(string Label, ImmutableArray<string> Texts, string Total);

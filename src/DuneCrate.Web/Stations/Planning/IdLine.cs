using System.Collections.Immutable;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>One id, seen from both sides.</summary>
/// <param name="Id">The id.</param>
/// <param name="Items">Items that carry it.</param>
/// <param name="Asked">Layers and passes that ask for it, as "sub object_id".</param>
/// <param name="Mark">good, warning or blocker.</param>
public sealed record IdLine(int Id, ImmutableArray<string> Items, ImmutableArray<string> Asked, string Mark);

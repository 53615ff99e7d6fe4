using System.Text.Json.Nodes;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>A change that a page sends.</summary>
/// <param name="Revision">The revision that its maker saw.</param>
/// <param name="View">The grid to answer with.</param>
/// <param name="Edit">The change.</param>
public sealed record EditRequest(int Revision, string View, JsonObject Edit);

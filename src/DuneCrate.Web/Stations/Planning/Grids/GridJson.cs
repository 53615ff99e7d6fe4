using System.Text.Json.Serialization;

namespace DuneCrate.Web.Stations.Planning.Grids;

/// <summary>How the grid of a page is written, worked out when the code is built: at start nothing has to be asked of the types.</summary>
[JsonSerializable(typeof(GridModel))]
internal sealed partial class GridJson : JsonSerializerContext;

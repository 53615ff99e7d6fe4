using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;
using DuneCrate.Web.Stations.Planning.Grids;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>
/// How grids, changes and answers are written and read, worked out when the code is built: at start nothing has to be asked of the types.
/// </summary>
[JsonSerializable(typeof(GridModel))]
[JsonSerializable(typeof(EditRequest))]
[JsonSerializable(typeof(EditAnswer))]
internal sealed partial class PlanningJson : JsonSerializerContext
{
    /// <summary>Options for what scripts ask and are answered.</summary>
    public static readonly JsonSerializerOptions Ahead = DocumentJson.Ahead(new PlanningJson());

    /// <summary>The same for text that stands in a page.</summary>
    public static readonly JsonSerializerOptions InPage = DocumentJson.Ahead(new PlanningJson(), DocumentJson.InPageForm);
}

using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Planning.Edits;

/// <summary>How changes of plans are written and read, worked out when the code is built.</summary>
[JsonSerializable(typeof(PlanEdit))]
internal sealed partial class EditJson : JsonSerializerContext
{
    /// <summary>Options for these documents.</summary>
    public static readonly JsonSerializerOptions Ahead = DocumentJson.Ahead(new EditJson(), DocumentJson.CompactForm);
}

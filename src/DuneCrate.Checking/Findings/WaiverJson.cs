using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Checking.Findings;

/// <summary>How waivers are written and read, worked out when the code is built.</summary>
[JsonSerializable(typeof(WaiverDocument))]
internal sealed partial class WaiverJson : JsonSerializerContext
{
    /// <summary>Options for these documents.</summary>
    public static readonly JsonSerializerOptions Ahead = DocumentJson.Ahead(new WaiverJson());
}

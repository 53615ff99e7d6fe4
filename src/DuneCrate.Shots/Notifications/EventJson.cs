using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Shots.Notifications;

/// <summary>How events are written and read, worked out when the code is built.</summary>
[JsonSerializable(typeof(EventDocument))]
internal sealed partial class EventJson : JsonSerializerContext
{
    /// <summary>Options for these documents.</summary>
    public static readonly JsonSerializerOptions Ahead = DocumentJson.Ahead(new EventJson());
}

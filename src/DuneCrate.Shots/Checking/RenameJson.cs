using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Shots.Checking;

/// <summary>How what was renamed is written and read, worked out when the code is built.</summary>
[JsonSerializable(typeof(RenameStep))]
internal sealed partial class RenameJson : JsonSerializerContext
{
    /// <summary>Options for these records.</summary>
    public static readonly JsonSerializerOptions Ahead = DocumentJson.Ahead(new RenameJson());
}

using System.Text.Json.Serialization;

namespace DuneCrate.Planning.Model;

/// <summary>How plans are read and written, worked out when the code is built: at start nothing has to be asked of the types.</summary>
[JsonSerializable(typeof(Plan))]
[JsonSerializable(typeof(string[]))]
internal sealed partial class PlanJson : JsonSerializerContext;

using System.Text.Json.Serialization;
using DuneCrate.Checking.Rebuild;

namespace DuneCrate.Checking.Intake;

/// <summary>How facts are written and read, worked out when the code is built: at start nothing has to be asked of the types.</summary>
[JsonSerializable(typeof(FactsDocument))]
[JsonSerializable(typeof(RebuildFacts))]
internal sealed partial class FactsJson : JsonSerializerContext;

using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Checking.Comparing;

/// <summary>How comparisons are written and read, worked out when the code is built.</summary>
[JsonSerializable(typeof(ComparisonDocument))]
internal sealed partial class ComparisonJson : JsonSerializerContext
{
    /// <summary>Options for these documents.</summary>
    public static readonly JsonSerializerOptions Ahead = DocumentJson.Ahead(new ComparisonJson());
}

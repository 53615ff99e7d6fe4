using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Imaging.Stacking;

/// <summary>How stacks are written and read, worked out when the code is built.</summary>
[JsonSerializable(typeof(StackRecipe))]
internal sealed partial class StackJson : JsonSerializerContext
{
    /// <summary>Options for these documents.</summary>
    public static readonly JsonSerializerOptions Ahead = DocumentJson.Ahead(new StackJson());
}

using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace DuneCrate.Core;

/// <summary>How every document of the product is written: camel case, two spaces, enumerations as lower-case names, NaN and infinity never.</summary>
public static class DocumentJson
{
    /// <summary>The options for documents.</summary>
    public static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        WriteIndented = true,
        NewLine = "\n",
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        Converters = { new Passes.ChannelTypeJsonConverter(), new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        RespectNullableAnnotations = true,
    };

    /// <summary>The same without line breaks, for storage.</summary>
    public static readonly JsonSerializerOptions Compact = new(Options) { WriteIndented = false };
}

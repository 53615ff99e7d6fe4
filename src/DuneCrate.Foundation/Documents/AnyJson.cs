using System.Diagnostics.CodeAnalysis;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace DuneCrate.Foundation.Documents;

/// <summary>
/// Documents of types that no generator was told of: their members are looked up at run time. What is compiled to machine code uses
/// <see cref="DocumentJson"/> alone.
/// </summary>
[RequiresUnreferencedCode("The members of types are looked up at run time.")]
[RequiresDynamicCode("The members of types are looked up at run time.")]
public static class AnyJson
{
    /// <summary>The form of documents.</summary>
    public static readonly JsonSerializerOptions Options = With(DocumentJson.Form);

    /// <summary>The same without line breaks.</summary>
    public static readonly JsonSerializerOptions Compact = With(DocumentJson.CompactForm);

    /// <summary>The same for text that stands in a page.</summary>
    public static readonly JsonSerializerOptions InPage = With(DocumentJson.InPageForm);

    /// <summary>Options that know every type: what they knew ahead, and the others at run time.</summary>
    public static JsonSerializerOptions With(JsonSerializerOptions form)
    {
        IJsonTypeInfoResolver asked = new DefaultJsonTypeInfoResolver { Modifiers = { DocumentJson.AskForParameters } };
        return new JsonSerializerOptions(form)
        {
            TypeInfoResolver = form.TypeInfoResolver is { } known ? JsonTypeInfoResolver.Combine(known, asked) : asked,
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        };
    }

    /// <summary>Reads a document, as <see cref="DocumentJson.Read{T}"/> does.</summary>
    /// <exception cref="Failures.DocumentException">The text is no such document; the exception says where.</exception>
    public static T Read<T>(string json)
        where T : class => DocumentJson.Read<T>(json, Options);
}

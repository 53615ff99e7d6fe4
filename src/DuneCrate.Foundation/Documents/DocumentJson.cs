using System.Collections;
using System.Collections.Immutable;
using System.Globalization;
using System.Reflection;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using DuneCrate.Foundation.Failures;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Foundation.Documents;

/// <summary>
/// How every document of the product is written: camel case, two spaces, enumerations as lower-case names, NaN and infinity never.
/// </summary>
public static class DocumentJson
{
    /// <summary>The form of documents, for what was worked out when the code was built; see <see cref="Ahead"/>.</summary>
    public static readonly JsonSerializerOptions Form = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        WriteIndented = true,
        NewLine = "\n",
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        Converters = { new ChannelTypeJsonConverter(), new UtcJsonConverter() },
        RespectNullableAnnotations = true,
    };

    /// <summary>The same without line breaks, for storage.</summary>
    public static readonly JsonSerializerOptions CompactForm = new(Form) { WriteIndented = false };

    /// <summary>
    /// The same for text that stands in a page: <c>&lt;</c> is written as <c>\u003c</c>, so that nothing in it can end the element.
    /// </summary>
    public static readonly JsonSerializerOptions InPageForm = new(CompactForm) { Encoder = VisibleEncoding.Script };

    /// <summary>Options for types whose way into documents was worked out when the code was built, and for no others.</summary>
    /// <param name="built">What the generator made.</param>
    /// <param name="form">How it is written; null for <see cref="Form"/>.</param>
    public static JsonSerializerOptions Ahead(IJsonTypeInfoResolver built, JsonSerializerOptions? form = null) =>
        new(form ?? Form) { TypeInfoResolver = built.WithAddedModifier(AskForParameters).WithAddedModifier(KeepDefaults) };

    /// <summary>What options know of a type.</summary>
    public static JsonTypeInfo<T> Of<T>(this JsonSerializerOptions options) => (JsonTypeInfo<T>)options.GetTypeInfo(typeof(T));

    /// <summary>
    /// Reads a document that somebody else may have written: an entry of a list that is null is refused like any other value that does not
    /// fit.
    /// </summary>
    /// <param name="json">The text.</param>
    /// <param name="options">Options of <see cref="Ahead"/>.</param>
    /// <exception cref="DocumentException">The text is no such document; the exception says where.</exception>
    public static T Read<T>(string json, JsonSerializerOptions options)
        where T : class
    {
        try
        {
            T document = JsonSerializer.Deserialize(json, options.Of<T>()) ?? throw new DocumentException("The document is empty.");
            return HoleIn(document, "$", options) is { } path
                ? throw new DocumentException("An entry of this list is null; fill it or take it out.", path)
                : document;
        }
        catch (NotSupportedException e)
        {
            // The serializer says so of a value that does not name its sort.
            throw new DocumentException("A change lacks its kind, or gives one that this version does not know.", inner: e);
        }
        catch (JsonException e) when (e is not DocumentException)
        {
            throw InOurWords(json, typeof(T), options, e);
        }
    }

    /// <summary>Why a document cannot be read, with the place.</summary>
    /// <param name="trouble">What <see cref="Read{T}"/> threw.</param>
    public static string Problem(DocumentException trouble)
    {
        string line = trouble.LineNumber is { } number ? string.Create(CultureInfo.InvariantCulture, $" (line {number + 1})") : "";
        return $"{trouble.Message.TrimEnd('.')}{line}.";
    }

    /// <summary>
    /// What is wrong with a document that the reader refused: its own sentences name types of the code, and only people read them.
    /// </summary>
    private static DocumentException InOurWords(string json, Type type, JsonSerializerOptions options, JsonException refused)
    {
        try
        {
            using var document = JsonDocument.Parse(json);
            return new LackingFields(options).Find(document.RootElement, type, "$") is (var path, var fields)
                ? new DocumentException($"{Place(path)} lacks {Words.List(fields)}.", path, refused.LineNumber, refused)
                : new DocumentException($"{Place(refused.Path)} has a value of the wrong kind.", refused.Path, refused.LineNumber, refused);
        }
        catch (JsonException e)
        {
            return new DocumentException("It is not valid JSON.", e.Path, e.LineNumber, e);
        }
    }

    private static string Place(string? path) => path?.TrimStart('$', '.') is { Length: > 0 } field ? field : "The document";

    /// <summary>
    /// What a document's type cannot do without must be there: without this a list that is left out would be no list at all.
    /// </summary>
    internal static void AskForParameters(JsonTypeInfo type)
    {
        foreach (
            JsonPropertyInfo property in type.Properties.Where(p =>
                p.AssociatedParameter is { HasDefaultValue: false, IsNullable: false, IsMemberInitializer: false }
            )
        )
        {
            property.IsRequired =
                property.PropertyType.IsClass
                || (IsList(property.PropertyType) && Nullable.GetUnderlyingType(property.PropertyType) is null);
        }
    }

    /// <summary>
    /// Code that is generated gives every <c>init</c> property a value at once, the empty one where a document leaves the property out, and
    /// takes no surplus fields so. Such a type is made empty instead, so that its own defaults stand, and filled afterwards.
    /// </summary>
    private static void KeepDefaults(JsonTypeInfo type)
    {
        if (
            type.ConstructorAttributeProvider is not ConstructorInfo constructor
            || !type.Properties.Any(p => p.AssociatedParameter is { IsMemberInitializer: true })
        )
        {
            return;
        }

        object?[] values = [.. constructor.GetParameters().Select(p => p.HasDefaultValue ? p.DefaultValue : null)];
        type.CreateObject = () => constructor.Invoke(values);
        foreach (JsonPropertyInfo property in type.Properties)
        {
            if (property.Set is not null && property.AttributeProvider is PropertyInfo { SetMethod: { } set })
            {
                property.Set = (owner, value) => set.Invoke(owner, [value]);
            }
        }
    }

    /// <summary>The path of the first entry that is null, or null.</summary>
    private static string? HoleIn(object value, string path, JsonSerializerOptions options)
    {
        JsonTypeInfo type = options.GetTypeInfo(value.GetType());
        return type.Kind switch
        {
            JsonTypeInfoKind.Object => type
                .Properties.Where(p =>
                    p.Get is not null
                    && !p.IsExtensionData
                    && (p.PropertyType.IsClass || IsList(p.PropertyType))
                    && p.PropertyType != typeof(string)
                )
                .Select(p => p.Get!(value) is { } inner ? HoleIn(inner, $"{path}.{p.Name}", options) : null)
                .FirstOrDefault(hole => hole is not null),
            JsonTypeInfoKind.Enumerable => ((IEnumerable)value)
                .Cast<object?>()
                .Select((entry, i) => entry is null ? $"{path}[{i}]" : HoleIn(entry, $"{path}[{i}]", options))
                .FirstOrDefault(hole => hole is not null),
            JsonTypeInfoKind.Dictionary when value is IDictionary entries => entries
                .Keys.Cast<object>()
                .Select(key => entries[key] is { } entry ? HoleIn(entry, $"{path}.{key}", options) : $"{path}.{key}")
                .FirstOrDefault(hole => hole is not null),
            _ => null,
        };
    }

    /// <summary>Times as UTC with a Z, whatever the database or a document said of their zone: one that says nothing is UTC.</summary>
    private sealed class UtcJsonConverter : JsonConverter<DateTime>
    {
        public override DateTime Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            Utc(reader.GetDateTime());

        public override void Write(Utf8JsonWriter writer, DateTime value, JsonSerializerOptions options) =>
            writer.WriteStringValue(Utc(value));

        private static DateTime Utc(DateTime time) =>
            time.Kind == DateTimeKind.Unspecified ? DateTime.SpecifyKind(time, DateTimeKind.Utc) : time.ToUniversalTime();
    }

    private static bool IsList(Type type) =>
        (Nullable.GetUnderlyingType(type) ?? type) is { IsGenericType: true } plain
        && plain.GetGenericTypeDefinition() == typeof(ImmutableArray<>);
}

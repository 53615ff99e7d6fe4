using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization.Metadata;

namespace DuneCrate.Foundation.Documents;

/// <summary>
/// Finds the first object of a document that lacks fields which its type cannot do without. The reader names them in a sentence alone.
/// </summary>
internal sealed class LackingFields(JsonSerializerOptions options)
{
    /// <summary>The path of the object and the fields that it lacks, or null.</summary>
    /// <param name="value">The document or a value in it.</param>
    /// <param name="type">What it should be.</param>
    /// <param name="path">Its JSON path.</param>
    public (string Path, string[] Fields)? Find(JsonElement value, Type type, string path)
    {
        JsonTypeInfo wanted = options.GetTypeInfo(Nullable.GetUnderlyingType(type) ?? type);
        return (wanted.Kind, value.ValueKind) switch
        {
            (JsonTypeInfoKind.Object, JsonValueKind.Object) => InObject(value, Named(value, wanted), path),
            (JsonTypeInfoKind.Dictionary, JsonValueKind.Object) => First(
                value.EnumerateObject().Select(p => (p.Value, wanted.ElementType!, $"{path}.{p.Name}"))
            ),
            (JsonTypeInfoKind.Enumerable, JsonValueKind.Array) => First(
                value
                    .EnumerateArray()
                    .Select((v, i) => (v, wanted.ElementType!, string.Create(CultureInfo.InvariantCulture, $"{path}[{i}]")))
            ),
            _ => null,
        };
    }

    private (string Path, string[] Fields)? InObject(JsonElement value, JsonTypeInfo type, string path)
    {
        string[] lacking = [.. type.Properties.Where(p => p.IsRequired && !value.TryGetProperty(p.Name, out _)).Select(p => p.Name)];
        return lacking.Length > 0
            ? (path, lacking)
            : First(
                type.Properties.Where(p => !p.IsExtensionData && value.TryGetProperty(p.Name, out _))
                    .Select(p => (value.GetProperty(p.Name), p.PropertyType, $"{path}.{p.Name}"))
            );
    }

    private (string Path, string[] Fields)? First(IEnumerable<(JsonElement Value, Type Type, string Path)> values) =>
        values.Select(v => Find(v.Value, v.Type, v.Path)).FirstOrDefault(f => f is not null);

    /// <summary>The type that a value names itself to be, where there are several.</summary>
    private JsonTypeInfo Named(JsonElement value, JsonTypeInfo type) =>
        type.PolymorphismOptions is { } sorts
        && value.TryGetProperty(sorts.TypeDiscriminatorPropertyName, out JsonElement name)
        && name.ValueKind == JsonValueKind.String
        && sorts.DerivedTypes.FirstOrDefault(d => name.ValueEquals($"{d.TypeDiscriminator}")) is { DerivedType: { } derived }
            ? options.GetTypeInfo(derived)
            : type;
}

using System.Text.Json;
using System.Text.Json.Serialization;

namespace DuneCrate.Foundation.Json;

/// <summary>Writes the values of an enumeration by name, as documents have them: camel case.</summary>
public sealed class EnumNames<T>() : JsonStringEnumConverter<T>(JsonNamingPolicy.CamelCase)
    where T : struct, Enum;

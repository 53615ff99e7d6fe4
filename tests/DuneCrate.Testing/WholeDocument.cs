using System.Collections;
using System.Collections.Immutable;
using System.Reflection;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace DuneCrate.Testing;

/// <summary>Documents in which everything is said that their types can say, made by asking the types.</summary>
public static class WholeDocument
{
    private static readonly Dictionary<Type, object> Plain = new()
    {
        [typeof(string)] = "kelp",
        [typeof(bool)] = true,
        [typeof(int)] = 3,
        [typeof(long)] = 4_000_000_000L,
        [typeof(float)] = 0.25f,
        [typeof(double)] = 0.5,
        [typeof(DateTime)] = new DateTime(2026, 3, 4, 5, 6, 7, DateTimeKind.Utc),
        [typeof(FrameSet)] = FrameSet.Parse("1001-1004x2,1010"),
        [typeof(FrameRate)] = new FrameRate(24000, 1001),
    };

    /// <summary>A document of a type, every list with one entry.</summary>
    public static T Of<T>() => (T)Make(typeof(T));

    private static object Make(Type type)
    {
        Type[] inner = type.IsGenericType ? type.GetGenericArguments() : [];
        return Plain.TryGetValue(type, out object? plain) ? plain
            : Nullable.GetUnderlyingType(type) is { } value ? Make(value)
            : type.IsEnum ? Enum.GetValues(type).Cast<object>().Last()
            : type.IsArray ? Entries(type.GetElementType()!)
            : inner.Length == 2 ? Dictionary(type, inner)
            : inner.Length == 1
                ? typeof(ImmutableArray).GetMethods().First(IsOfArray).MakeGenericMethod(inner).Invoke(null, [Entries(inner[0])])!
            : Filled(type);
    }

    private static bool IsOfArray(MethodInfo method) =>
        method.Name == nameof(ImmutableArray.Create) && method.GetParameters() is [{ ParameterType.IsArray: true }];

    private static Array Entries(Type entry)
    {
        var list = Array.CreateInstance(entry, 1);
        list.SetValue(Make(entry), 0);
        return list;
    }

    private static object Dictionary(Type type, Type[] inner)
    {
        var made = (IDictionary)Activator.CreateInstance(type.IsInterface ? typeof(Dictionary<,>).MakeGenericType(inner) : type)!;
        made[Make(inner[0])] = inner[1] == typeof(JsonElement) ? JsonSerializer.SerializeToElement(new[] { 1, 2 }) : Make(inner[1]);
        return made;
    }

    private static object Filled(Type type)
    {
        ConstructorInfo constructor = type.GetConstructors().OrderByDescending(c => c.GetParameters().Length).First();
        object made = constructor.Invoke([.. constructor.GetParameters().Select(p => Make(p.ParameterType))]);
        foreach (
            PropertyInfo property in type.GetProperties()
                .Where(p =>
                    p.SetMethod is not null && p.GetCustomAttribute<JsonIgnoreAttribute>() is not { Condition: JsonIgnoreCondition.Always }
                )
        )
        {
            property.SetValue(made, property.Name == "Schema" ? property.GetValue(made) ?? "kelp" : Make(property.PropertyType));
        }

        return made;
    }
}

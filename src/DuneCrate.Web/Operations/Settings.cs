using System.ComponentModel.DataAnnotations;
using System.Reflection;
using Microsoft.Extensions.Options;

namespace DuneCrate.Web.Operations;

/// <summary>
/// Sections of the configuration as types, held against the attributes of those types when the application starts: a setting that cannot
/// be is said then, by its name, and not when it is used for the first time.
/// </summary>
internal static class Settings
{
    /// <summary>Binds a section to a type, for whoever asks for <see cref="IOptions{T}"/>.</summary>
    public static OptionsBuilder<T> AddSettings<T>(this IServiceCollection services, IConfiguration configuration, string section)
        where T : class, new() =>
        services
            .AddOptions<T>()
            .Configure(o => Bind(configuration.GetSection(section), o))
            .PostConfigure(o => Check(section, o))
            .ValidateOnStart();

    /// <summary>The same at once, for what is decided while the application is put together.</summary>
    /// <exception cref="OptionsValidationException">A setting cannot be; each failure is a sentence.</exception>
    public static T Read<T>(IConfiguration configuration, string section)
        where T : class, new()
    {
        var settings = new T();
        Bind(configuration.GetSection(section), settings);
        Check(section, settings);
        return settings;
    }

    private static void Bind<T>(IConfigurationSection section, T settings)
        where T : class
    {
        try
        {
            section.Bind(settings);
        }
        catch (InvalidOperationException)
        {
            throw Wrong<T>(
                typeof(T)
                    .GetProperties(BindingFlags.Public | BindingFlags.Instance)
                    .Where(p => p.CanWrite && !CanBe(section.GetSection(p.Name), p.PropertyType))
                    .Select(p => $"{section.Path}:{p.Name} is '{section[p.Name]}', where {Kind(p.PropertyType)} belongs.")
            );
        }
    }

    private static void Check<T>(string section, T settings)
        where T : class
    {
        List<ValidationResult> found = [];
        if (!Validator.TryValidateObject(settings, new ValidationContext(settings), found, validateAllProperties: true))
        {
            throw Wrong<T>(found.Select(f => $"{section}:{f.MemberNames.FirstOrDefault()} {f.ErrorMessage}."));
        }
    }

    private static OptionsValidationException Wrong<T>(IEnumerable<string> failures) => new(typeof(T).Name, typeof(T), failures);

    private static bool CanBe(IConfigurationSection value, Type type)
    {
        try
        {
            value.Get(type);
            return true;
        }
        catch (InvalidOperationException)
        {
            return false;
        }
    }

    private static string Kind(Type type) =>
        (Nullable.GetUnderlyingType(type) ?? type) switch
        {
            var t when t == typeof(bool) => "true or false",
            var t when t == typeof(int) || t == typeof(long) => "a whole number",
            _ => "such a value",
        };
}

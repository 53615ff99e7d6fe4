namespace DuneCrate.Web.Telling;

/// <summary>Puts letters into the application.</summary>
internal static class TellingRegistration
{
    /// <summary>Adds what writes letters and takes them out. The demo puts them into a folder.</summary>
    public static void AddTelling(this IServiceCollection services, IConfiguration configuration, ServeOptions options)
    {
        services.AddHttpClient();
        services.Configure<TellingOptions>(configuration.GetSection(TellingOptions.Section));
        services.PostConfigure<TellingOptions>(o =>
            o.DropFolder = o.DropFolder ?? (options.IsDemo ? Path.Combine(options.DataFolder, "mail") : null)
        );
        services.AddSingleton<LetterWriter>().AddSingleton<LetterCarrier>();
        services.AddHostedService(s => s.GetRequiredService<LetterCarrier>());
    }
}

using DuneCrate.Shots;
using DuneCrate.Shots.Notifications;

namespace DuneCrate.Web.Operations;

/// <summary>Puts letters into the application.</summary>
internal static class NotificationRegistration
{
    /// <summary>Adds what writes letters and takes them out. The demo puts them into a folder.</summary>
    public static void AddNotifications(this IServiceCollection services, IConfiguration configuration, ServeOptions options)
    {
        services.AddHttpClient();
        services
            .AddSettings<NotificationOptions>(configuration, NotificationOptions.Section)
            .PostConfigure(o => o.DropFolder ??= options.IsDemo ? Path.Combine(options.DataFolder, "mail") : null);
        services.AddSingleton<OutboxWriter>().AddWork<OutboxSender>();
    }
}

using System.Net;
using DuneCrate.Core.Intake;
using DuneCrate.Store;
using DuneCrate.Web.Demo;
using DuneCrate.Web.Live;
using DuneCrate.Web.Pictures;
using DuneCrate.Web.Planning;
using DuneCrate.Web.Roots;
using DuneCrate.Web.Shots;
using DuneCrate.Web.Work;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.StaticFiles;

namespace DuneCrate.Web;

/// <summary>Puts the application together; the command line, the page tests and the browser tests all start it here.</summary>
public static class DuneCrateApp
{
    /// <summary>The application, ready to be started. The database is brought up to date.</summary>
    public static WebApplication Build(ServeOptions options)
    {
        Directory.CreateDirectory(options.DataFolder);
        WebApplicationBuilder builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = AppContext.BaseDirectory, ApplicationName = typeof(DuneCrateApp).Assembly.GetName().Name });
        builder.Logging.ClearProviders().AddSimpleConsole(o => o.SingleLine = true).SetMinimumLevel(LogLevel.Warning).AddFilter("Microsoft.AspNetCore.DataProtection", LogLevel.Error);
        builder.WebHost.ConfigureKestrel(k => k.Listen(IPAddress.Parse(options.Bind), options.Port));
        builder.Services.AddSingleton(options);
        builder.Services.AddSingleton(ReadLimits.Default.With(name => builder.Configuration[$"Limits:{name}"]));
        builder.Services.AddDuneCrateStore(Path.Combine(options.DataFolder, "dune-crate.db"));
        builder.Services.AddDataProtection().SetApplicationName("dune-crate").PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(options.DataFolder, "keys")));
        builder.Services.AddSingleton<StorageRoots>().AddSingleton<ShotDesk>().AddSingleton<PictureStore>();
        builder.Services.AddSingleton<ShotEvents>().AddSingleton<PlanDesk>();
        builder.Services.AddSingleton<CheckWork>().AddHostedService(s => s.GetRequiredService<CheckWork>());
        builder.Services.AddSingleton<CrateWork>().AddHostedService(s => s.GetRequiredService<CrateWork>());
        builder.Services.AddSingleton<FarmWork>().AddSingleton<RenameDesk>();
        builder.Services.AddSingleton<ArrivalWatch>().AddHostedService(s => s.GetRequiredService<ArrivalWatch>());
        builder.Services.AddSingleton<DemoWork>();
        if (options.IsDemo)
        {
            builder.Services.AddHostedService(s => s.GetRequiredService<DemoWork>());
        }

        builder.Services.AddAntiforgery(a => a.HeaderName = "X-Form-Token");
        builder.Services.AddRazorPages();
        if (IPAddress.IsLoopback(IPAddress.Parse(options.Bind)))
        {
            builder.Services.Configure<Microsoft.AspNetCore.HostFiltering.HostFilteringOptions>(h => h.AllowedHosts = ["127.0.0.1", "localhost", "[::1]"]);
        }

        WebApplication app = builder.Build();
        app.Services.MigrateDuneCrateStore();
        app.UseExceptionHandler("/problem");
        app.UseStatusCodePagesWithReExecute("/problem", "?code={0}");
        app.Use((context, next) =>
        {
            context.Response.Headers.ContentSecurityPolicy = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; frame-ancestors 'self'";
            context.Response.Headers.XContentTypeOptions = "nosniff";
            context.Response.Headers["Referrer-Policy"] = "same-origin";
            return next();
        });
        app.UseStaticFiles(new StaticFileOptions
        {
            ContentTypeProvider = new FileExtensionContentTypeProvider(),
            OnPrepareResponse = c => c.Context.Response.Headers.CacheControl = "public, max-age=600",
        });
        app.Use((HttpContext context, RequestDelegate next) => EditorCookies.Remember(context, next));
        app.UseRouting();
        app.MapRazorPages();
        app.MapPictures();
        app.MapPlans();
        return app;
    }
}

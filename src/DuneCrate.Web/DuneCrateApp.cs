using System.Net;
using DuneCrate.Foundation.Documents;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Rasters;
using DuneCrate.Shots;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Roots;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using DuneCrate.Web.Access;
using DuneCrate.Web.Api;
using DuneCrate.Web.Demo;
using DuneCrate.Web.Forms;
using DuneCrate.Web.Operations;
using DuneCrate.Web.Stations.Looking;
using DuneCrate.Web.Stations.Machines;
using DuneCrate.Web.Stations.Planning;
using DuneCrate.Web.Stations.Shared;
using DuneCrate.Web.Stations.Stacking;
using DuneCrate.Web.Stations.Upkeep;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.HostFiltering;
using Microsoft.AspNetCore.StaticFiles;

namespace DuneCrate.Web;

/// <summary>Puts the application together; the command line, the page tests and the browser tests all start it here.</summary>
public static class DuneCrateApp
{
    /// <summary>Name of the configuration file in the data folder.</summary>
    public const string ConfigurationFile = "dune-crate.json";

    private static readonly string ContentPolicy = string.Join(
        "; ",
        "default-src 'self'",
        $"script-src 'self' {Assets.ImportMapHash}",
        "style-src 'self' 'unsafe-inline'",
        "img-src 'self' data: blob:",
        "frame-ancestors 'self'",
        "form-action 'self'",
        "base-uri 'none'",
        "object-src 'none'"
    );

    /// <summary>The application, ready to be started. The data folder is taken and the database brought up to date.</summary>
    /// <exception cref="IOException">The data folder is in use, or the database cannot be used; the message says why and what to
    /// do.</exception>
    public static WebApplication Build(ServeOptions options)
    {
        var data = DataFolder.Take(options.DataFolder);
        try
        {
            return Build(options, data);
        }
        catch
        {
            data.Dispose();
            throw;
        }
    }

    private static WebApplication Build(ServeOptions options, DataFolder data)
    {
        WebApplicationBuilder builder = WebApplication.CreateBuilder(
            new WebApplicationOptions
            {
                ContentRootPath = AppContext.BaseDirectory,
                ApplicationName = typeof(DuneCrateApp).Assembly.GetName().Name,
            }
        );
        builder
            .Logging.ClearProviders()
            .AddSimpleConsole(o => o.SingleLine = true)
            .SetMinimumLevel(LogLevel.Warning)
            .AddFilter("Microsoft.AspNetCore.DataProtection", LogLevel.Error);
        builder.WebHost.ConfigureKestrel(k => k.Listen(options.Bind, options.Port));
        builder.Services.AddSingleton(options);
        builder.Services.AddSingleton(options.Clock);
        builder.Services.AddSingleton(_ => data);
        builder.Services.AddSingleton(ReadLimits.Default.With(name => builder.Configuration[$"Limits:{name}"]));
        builder.Configuration.AddJsonFile(data.At(ConfigurationFile), optional: true, reloadOnChange: false);
        builder.Services.AddDuneCrateStore(data.At(DataFolder.Database), options.Clock);
        var hold = StoreHold.Take(data.At(DataFolder.Database), options.Clock);
        builder.Services.AddSingleton(_ => hold);
        builder.Services.AddDataProtection().SetApplicationName("dune-crate").PersistKeysToFileSystem(data.Private(DataFolder.Keys));
        builder.Services.AddSingleton(_ => InstallationKeys.Take(data));
        builder.Services.AddSingleton<HistoryHead>();
        builder.Services.AddAccess();
        builder.Services.AddNotifications(builder.Configuration, options);
        builder.AddOperations(data);
        builder.Services.AddShots();
        builder.Services.AddSettings<CheckSettings>(builder.Configuration, CheckSettings.Section);
        builder.Services.AddSettings<LookSettings>(builder.Configuration, LookSettings.Section);
        builder.Services.AddMachines(options.Engine);
        builder.Services.AddSingleton<CrateDownloads>().AddWork<UpkeepService>().AddSingleton<DemoCrates>();
        if (options.HasOwnProcess)
        {
            builder.Services.AddHostedService<MemoryWatch>();
        }

        builder.Services.AddSingleton<DemoBuilder>();
        if (options.IsDemo)
        {
            builder.Services.AddHostedService(s => s.GetRequiredService<DemoBuilder>());
        }

        builder.Services.AddAntiforgery(a =>
        {
            a.HeaderName = "X-Form-Token";
            a.Cookie.Name = AccessRegistration.FormCookie;
            a.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
        });
        builder.Services.AddSingleton(VisibleEncoding.Html);
        builder.Services.ConfigureHttpJsonOptions(o => o.SerializerOptions.Encoder = VisibleEncoding.Script);
        builder
            .Services.AddRazorPages(pages =>
            {
                pages.RootDirectory = "/Stations";
                pages.Conventions.AddPageRoute("/Shows/Archive", "/{show}/{shot}/archive");
                pages.Conventions.ConfigureFilter(new CheckedFields());
                pages.Conventions.ConfigureFilter(new SignedNames());
            })
            .AddJsonOptions(o => o.JsonSerializerOptions.Encoder = VisibleEncoding.Script);
        builder.Services.Configure<HostFilteringOptions>(h =>
        {
            // A request that names no host is refused; on this machine alone, one that names another host too, unless it is configured.
            string[] named = (builder.Configuration["AllowedHosts"] ?? "").Split(
                ';',
                StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries
            );
            h.AllowEmptyHosts = false;
            h.AllowedHosts =
                IPAddress.IsLoopback(options.Bind) ? ["127.0.0.1", "localhost", "[::1]", .. named.Where(n => n != "*")]
                : named.Length > 0 ? named
                : ["*"];
        });

        WebApplication app = builder.Build();
        app.Services.GetRequiredService<DataFolder>();
        app.Services.GetRequiredService<StoreHold>();
        app.Services.GetRequiredService<StorageRoots>();
        app.Services.GetRequiredService<InstallationKeys>();
        app.Services.GetRequiredService<HistoryHead>().Begin();
        if (app.Services.GetRequiredService<UpgradeNote>().Words is { } note)
        {
            app.Logger.LogWarning("{Note}", note);
        }

        VipsWarnings.Told = warning => app.Logger.LogWarning("The image library says of a file: {Warning}", VisibleText.Clean(warning));
        app.UseForwardedHeaders();
        app.UseHostFiltering();
        app.UseAccessLog();
        app.Use((HttpContext context, RequestDelegate next) => RequestForm.Canonical(context, next));
        app.UseExceptionHandler(ProblemPage.OfFailures());
        app.UseStatusCodePagesWithReExecute(ProblemPage.Address, "?code={0}");
        app.Use((HttpContext context, RequestDelegate next) => ProblemPage.AsRead(context, next));
        app.Use(
            (context, next) =>
            {
                context.Response.Headers.ContentSecurityPolicy = ContentPolicy;
                context.Response.Headers.XContentTypeOptions = "nosniff";
                context.Response.Headers["Referrer-Policy"] = "same-origin";
                return next();
            }
        );
        app.UseStaticFiles(
            new StaticFileOptions
            {
                ContentTypeProvider = new FileExtensionContentTypeProvider(),
                OnPrepareResponse = c => c.Context.Response.Headers.CacheControl = "public, max-age=600",
            }
        );
        app.Use((HttpContext context, RequestDelegate next) => AnswerHeaders.KeepPrivate(context, next));
        app.Use((HttpContext context, RequestDelegate next) => EditorCookies.Remember(context, next));
        app.UseRouting();
        app.UseAuthentication();
        app.Use((HttpContext context, RequestDelegate next) => Visiting.Read(context, next));
        app.UseAuthorization();
        app.UseRateLimiter();
        app.Use((HttpContext context, RequestDelegate next) => Visiting.Watch(context, next));
        app.Use((HttpContext context, RequestDelegate next) => RequestForm.OnePlace(context, next));
        MapEndpoints(app);
        return app;
    }

    /// <summary>Every address, with what it asks of whoever calls it.</summary>
    private static void MapEndpoints(WebApplication root)
    {
        root.MapRazorPages().Add(AccessTable.Apply);
        RouteGroupBuilder app = root.MapGroup("");
        ((IEndpointConventionBuilder)app).Finally(AccessTable.Apply);
        app.MapApi();
        app.MapCrateApi();
        app.MapHealth();
        app.MapPictures();
        app.MapViewer();
        app.MapNumbers();
        app.MapSceneMarks();
        app.MapComparing();
        app.MapRebuilds();
        app.MapStacks();
        app.MapBits();
        app.MapPlans();
    }
}

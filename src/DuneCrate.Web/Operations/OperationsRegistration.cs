using DuneCrate.Shots.Jobs;
using DuneCrate.Store.Keeping;
using Microsoft.AspNetCore.HttpLogging;
using Microsoft.AspNetCore.HttpOverrides;
using OpenTelemetry.Metrics;
using OpenTelemetry.Resources;
using OpenTelemetry.Trace;

namespace DuneCrate.Web.Operations;

/// <summary>Puts logs, what a proxy in front says, and measurements into the application, as the configuration asks.</summary>
internal static class OperationsRegistration
{
    private const int LogBytes = 10 << 20,
        LogFiles = 14;

    /// <summary>Folder of the access log below the data folder.</summary>
    public const string Logs = "logs";

    /// <summary>Adds what the configuration asks for.</summary>
    public static void AddOperations(this WebApplicationBuilder builder, DataFolder data)
    {
        if (Settings.Read<LogSettings>(builder.Configuration, LogSettings.Section).Json)
        {
            builder.Logging.ClearProviders().AddJsonConsole();
        }

        if (Settings.Read<TelemetrySettings>(builder.Configuration, TelemetrySettings.Section).Endpoint is { Length: > 0 } endpoint)
        {
            builder
                .Services.AddOpenTelemetry()
                .ConfigureResource(r => r.AddService("dune-crate"))
                .WithMetrics(m =>
                    m.AddAspNetCoreInstrumentation()
                        .AddRuntimeInstrumentation()
                        .AddMeter(Measures.Name)
                        .AddOtlpExporter(o => o.Endpoint = new Uri(endpoint))
                )
                .WithTracing(t => t.AddAspNetCoreInstrumentation().AddOtlpExporter(o => o.Endpoint = new Uri(endpoint)));
        }

        // Only a proxy on this machine is believed, the framework's default, and never about the name: a page of somebody else whose name
        // leads to this machine could say it too, and would get past the filter of names.
        builder.Services.Configure<ForwardedHeadersOptions>(o =>
            o.ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto
        );
        if (HasAccessLog(builder.Configuration))
        {
            builder.Services.AddW3CLogging(o =>
            {
                o.LogDirectory = data.Private(Logs).FullName;
                o.FileName = "access-";
                o.FileSizeLimit = LogBytes;
                o.RetainedFileCountLimit = LogFiles;
                o.LoggingFields =
                    W3CLoggingFields.Date
                    | W3CLoggingFields.Time
                    | W3CLoggingFields.ClientIpAddress
                    | W3CLoggingFields.UserName
                    | W3CLoggingFields.Method
                    | W3CLoggingFields.UriStem
                    | W3CLoggingFields.ProtocolStatus
                    | W3CLoggingFields.TimeTaken;
            });
        }
    }

    /// <summary>Writes who asked for what in the W3C's extended log format; never the words in links.</summary>
    public static void UseAccessLog(this WebApplication app)
    {
        if (HasAccessLog(app.Configuration))
        {
            app.UseWhen(
                http => !http.Request.Path.StartsWithSegments("/guest", StringComparison.OrdinalIgnoreCase),
                branch => branch.UseW3CLogging()
            );
        }
    }

    private static bool HasAccessLog(IConfiguration configuration) => Settings.Read<LogSettings>(configuration, LogSettings.Section).Access;
}

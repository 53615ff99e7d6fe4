using System.Buffers.Binary;
using System.Collections.Concurrent;
using System.Text;
using DuneCrate.Shots;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Server.Kestrel.Core;
using Microsoft.Extensions.Logging;

namespace DuneCrate.Web.Tests;

/// <summary>
/// Measurements and traces go to a collector that speaks as much of OTLP as a delivery needs. Source: OpenTelemetry Protocol specification
/// 1.5, "OTLP/gRPC"; gRPC over HTTP/2 (a message is a byte 0, its length in four bytes and itself; the status comes as a trailer).
/// </summary>
public sealed class TelemetryTests : IDisposable
{
    private const int MessageHead = 5;

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-telemetry-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task Measurements_and_traces_reach_the_collector_that_the_configuration_names()
    {
        var got = new ConcurrentQueue<(string Call, string Message)>();
        await using WebApplication collector = Collector(got);
        await collector.StartAsync();
        await File.WriteAllTextAsync(
            Path.Combine(_folder, DuneCrateApp.ConfigurationFile),
            $$"""{ "Telemetry": { "Endpoint": "{{collector.Urls.First()}}" } }"""
        );
        await using (WebApplication app = DuneCrateApp.Build(ServeOptions.ForServe(_folder, 0, "127.0.0.1", []).WithoutAccounts()))
        {
            await app.StartAsync();
            using var client = new HttpClient { BaseAddress = new Uri(app.Urls.First()) };
            using HttpResponseMessage refused = await client.PostAsync("/new-show", new FormUrlEncodedContent([]));
            Assert.False(refused.IsSuccessStatusCode);
            await app.StopAsync();
        }

        string Of(string call) => string.Concat(got.Where(g => g.Call.EndsWith(call, StringComparison.Ordinal)).Select(g => g.Message));
        string measured = Of("opentelemetry.proto.collector.metrics.v1.MetricsService/Export"),
            traced = Of("opentelemetry.proto.collector.trace.v1.TraceService/Export");
        Assert.Contains("dune-crate", measured, StringComparison.Ordinal);
        Assert.Contains("http.server.request.duration", measured, StringComparison.Ordinal);
        Assert.Contains("dotnet.gc.collections", measured, StringComparison.Ordinal);
        Assert.Contains("dune-crate", traced, StringComparison.Ordinal);
        Assert.Contains("/new-show", traced, StringComparison.Ordinal);
    }

    private static WebApplication Collector(ConcurrentQueue<(string Call, string Message)> got)
    {
        WebApplicationBuilder builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.ConfigureKestrel(k => k.Listen(System.Net.IPAddress.Loopback, 0, l => l.Protocols = HttpProtocols.Http2));
        WebApplication collector = builder.Build();
        collector.Run(async http =>
        {
            using var body = new MemoryStream();
            await http.Request.Body.CopyToAsync(body);
            byte[] bytes = body.ToArray();
            Assert.Equal(bytes.Length - MessageHead, BinaryPrimitives.ReadInt32BigEndian(bytes.AsSpan(1)));
            got.Enqueue((http.Request.Path, Encoding.UTF8.GetString(bytes)));
            http.Response.ContentType = "application/grpc";
            http.Response.DeclareTrailer("grpc-status");
            await http.Response.Body.WriteAsync(new byte[MessageHead]);
            http.Response.AppendTrailer("grpc-status", "0");
        });
        return collector;
    }
}

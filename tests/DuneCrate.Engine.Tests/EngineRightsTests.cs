using DuneCrate.Engine.Workers;
using Microsoft.Extensions.Time.Testing;
using NATS.Client.Core;
using NATS.Client.JetStream;
using NATS.NKeys;

namespace DuneCrate.Engine.Tests;

/// <summary>
/// Who gets in at an engine, with certificates by openssl and a nats-server that asks for them, and what a worker may do there
/// (docs/machines.md gives the same rights).
/// </summary>
public sealed class EngineRightsTests : IDisposable
{
    private const string Site = "kelp";

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-tls-").FullName;
    private readonly Broker _broker;

    public EngineRightsTests()
    {
        Tool.Run(
            "openssl",
            [
                "req",
                "-x509",
                "-newkey",
                "ec",
                "-pkeyopt",
                "ec_paramgen_curve:P-256",
                "-nodes",
                "-days",
                "2",
                "-subj",
                "/CN=Kelp authority",
                "-keyout",
                At("ca.key"),
                "-out",
                At("ca.pem"),
            ]
        );
        Sign("server", "subjectAltName=IP:127.0.0.1");
        Sign("worker", "extendedKeyUsage=clientAuth");
        File.WriteAllText(At("nats.conf"), Configuration());
        _broker = new Broker("-c", At("nats.conf"));
    }

    public void Dispose()
    {
        _broker.Dispose();
        Directory.Delete(_folder, recursive: true);
    }

    private string At(string name) => Path.Combine(_folder, name);

    private void Sign(string name, string extension)
    {
        File.WriteAllText(At("extension"), extension);
        Tool.Run(
            "openssl",
            [
                "req",
                "-newkey",
                "ec",
                "-pkeyopt",
                "ec_paramgen_curve:P-256",
                "-nodes",
                "-subj",
                $"/CN={name}",
                "-keyout",
                At($"{name}.key"),
                "-out",
                At("request"),
            ]
        );
        Tool.Run(
            "openssl",
            [
                "x509",
                "-req",
                "-in",
                At("request"),
                "-CA",
                At("ca.pem"),
                "-CAkey",
                At("ca.key"),
                "-CAcreateserial",
                "-days",
                "2",
                "-extfile",
                At("extension"),
                "-out",
                At($"{name}.pem"),
            ]
        );
    }

    /// <summary>The configuration that docs/machines.md gives, as a shell would write it, with certificates and a second site beside
    /// it.</summary>
    private string Configuration()
    {
        string manual = File.ReadAllText(Path.Combine(Repository.Root, "docs", "machines.md")),
            written = manual.Split("<<EOF\n")[1].Split("EOF\n")[0],
            users = string.Concat(
                written
                    .Split('\n')
                    .SkipWhile(l => !l.Contains("users = [", StringComparison.Ordinal))
                    .Skip(1)
                    .TakeWhile(l => l.Trim() != "]")
                    .Select(l => l.Replace("\\$", "$", StringComparison.Ordinal) + "\n")
            );
        string Of(string site, string worker, string password) =>
            users
                .Replace("${site}", site, StringComparison.Ordinal)
                .Replace("$site", site, StringComparison.Ordinal)
                .Replace("$server", "tide", StringComparison.Ordinal)
                .Replace("$worker", password, StringComparison.Ordinal)
                .Replace("user: worker", $"user: {worker}", StringComparison.Ordinal)
                .Replace(".worker.>", $".{worker}.>", StringComparison.Ordinal);
        string second = string.Join(
            '\n',
            Of("reef", "other", "spray").Split('\n').Where(l => !l.Contains("user: server", StringComparison.Ordinal))
        );
        return $$"""
            tls {
              cert_file: "{{At("server.pem")}}", key_file: "{{At("server.key")}}", ca_file: "{{At("ca.pem")}}", verify: true, timeout: 30
            }
            authorization { users = [
            {{Of(Site, "worker", "foam")}}
            {{second}}
            ] }
            """;
    }

    private EngineOptions As(string user, string password, bool hasCertificate = true) =>
        _broker.Options with
        {
            Address = new Uri(_broker.Address.Replace("://", $"://{user}:{password}@", StringComparison.Ordinal)),
            TlsAuthority = At("ca.pem"),
            TlsCertificate = hasCertificate ? At("worker.pem") : null,
            TlsKey = hasCertificate ? At("worker.key") : null,
        };

    [Fact]
    public async Task What_killed_commands_left_at_the_engine_is_swept_up()
    {
        await using NatsConnection connection = await As("server", "tide").ConnectAsync("test", null, default);
        var engine = new NatsJSContext(connection);
        var clock = new FakeTimeProvider(DateTimeOffset.UtcNow);
        EngineNames command = EngineNames.OfRun(),
            server = new("kept");
        foreach (EngineNames names in new[] { command, server })
        {
            await EngineStreams.EnsureAsync(engine, names, ["renders"], _broker.Options, default);
        }

        await EngineStreams.SweepAsync(engine, clock, TimeSpan.FromDays(1), default);
        Assert.Contains(command.Work, await StreamsAsync(engine));
        clock.Advance(TimeSpan.FromDays(2));
        await EngineStreams.SweepAsync(engine, clock, TimeSpan.FromDays(1), default);
        Assert.Equal([server.Advice, server.Facts, server.Work], await StreamsAsync(engine));
    }

    private static async Task<List<string>> StreamsAsync(NatsJSContext engine)
    {
        var names = new List<string>();
        await foreach (string name in engine.ListStreamNamesAsync())
        {
            names.Add(name);
        }

        return [.. names.Order(StringComparer.Ordinal)];
    }

    private static async Task<string> RefusedAsync(EngineOptions options) =>
        (await Assert.ThrowsAsync<EngineException>(() => options.ConnectAsync("test", null, default))).Message;

    [Fact]
    public async Task Plain_connections_and_those_without_certificate_or_password_are_refused()
    {
        Assert.Contains("TLS", await RefusedAsync(_broker.Options), StringComparison.Ordinal);
        Assert.NotEmpty(await RefusedAsync(As("server", "tide", hasCertificate: false)));
        Assert.Contains("refuses to let this program in", await RefusedAsync(As("server", "ebb")), StringComparison.Ordinal);
        Assert.DoesNotContain("ebb", await RefusedAsync(As("server", "ebb")), StringComparison.Ordinal);
        await (await As("server", "tide").ConnectAsync("test", null, default)).DisposeAsync();
    }

    [Fact]
    public async Task Key_lets_in_its_owner_and_nobody_else()
    {
        using var own = KeyPair.CreatePair(PrefixByte.User);
        using var other = KeyPair.CreatePair(PrefixByte.User);
        File.WriteAllText(At("own.nk"), own.GetSeed());
        File.WriteAllText(At("other.nk"), other.GetSeed());
        File.WriteAllText(At("keys.conf"), $$"""authorization { users = [ { nkey: {{own.GetPublicKey()}} } ] }""");
        using var broker = new Broker("-c", At("keys.conf"));
        EngineOptions With(string file) => broker.Options with { Credentials = At(file) };
        await (await With("own.nk").ConnectAsync("test", null, default)).DisposeAsync();
        Assert.Contains("refuses to let this program in", await RefusedAsync(With("other.nk")), StringComparison.Ordinal);
        Assert.Contains("refuses to let this program in", await RefusedAsync(broker.Options), StringComparison.Ordinal);
        Assert.Contains("neither credentials nor a seed", await RefusedAsync(With("keys.conf")), StringComparison.Ordinal);

        using var shot = new ShotOnDisk(2);
        using var worker = new WorkerProcess(broker, shot.Root, null, "--credentials", At("own.nk"));
        await using EngineGatherer server = shot.Server(broker, Site, options: With("own.nk"));
        Assert.Equal(shot.Here, ShotOnDisk.Text(shot.Check(server)));
        Assert.Contains(worker.Lines, l => l.Contains("reading renders: KP010/", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Worker_with_the_rights_that_the_manual_gives_works_and_may_do_no_more()
    {
        using var shot = new ShotOnDisk(2);
        await using EngineGatherer server = shot.Server(_broker, Site, options: As("server", "tide"));
        using var ending = new CancellationTokenSource();
        var options = new WorkerOptions(
            As("worker", "foam"),
            new Dictionary<string, string> { ["renders"] = shot.Root },
            1,
            Site,
            DuneCrate.Imaging.ReadLimits.Default
        );
        Task work = new Worker(options, shot.Said.Enqueue).RunAsync(ending.Token);
        Assert.Equal(shot.Here, ShotOnDisk.Text(shot.Check(server)));
        Assert.Contains(shot.Said, l => l.Contains("reading renders: KP010/", StringComparison.Ordinal));
        Assert.DoesNotContain(shot.Said, l => l.Contains("no machine reads", StringComparison.Ordinal));

        // Work that a worker gives out is no work.
        await using NatsConnection mine = await As("worker", "foam").ConnectAsync("test", Site, default);
        var engine = new NatsJSContext(mine);
        var names = new EngineNames(Site);
        await Assert.ThrowsAnyAsync<Exception>(() =>
            engine.PublishAsync(names.WorkOf(WorkKind.Bulk, "renders", "run", "piece"), new byte[] { 1 }).AsTask()
        );
        Assert.Equal(0, (await server.ViewAsync(default)).Queues.Sum(q => q.Waiting + q.Taken));
        await ending.CancelAsync();
        await work;
    }

    /// <summary>
    /// Not work, not answers, not calls: with the rights that the manual gives, a worker of another site hears nothing of this one. (OWASP
    /// ASVS 5.0, V8.4.1: tenants are kept apart.)
    /// </summary>
    [Fact]
    public async Task Worker_of_another_site_receives_nothing()
    {
        using var shot = new ShotOnDisk(2);
        await using EngineGatherer server = shot.Server(_broker, Site, options: As("server", "tide"));
        var heard = new System.Collections.Concurrent.ConcurrentQueue<string>();
        using var ending = new CancellationTokenSource();

        // One that plays by the rules, for its own site and then for this one, and one that listens wherever it can.
        await using NatsConnection spy = await As("other", "spray").ConnectAsync("spy", "reef", default);
        List<Task> tasks =
        [
            .. new[]
            {
                ">",
                "_INBOX.>",
                $"_INBOX.{Site}.>",
                $"_INBOX.{Site}.worker.>",
                $"dune.{Site}.>",
                $"dune.{Site}.stop",
                "$JS.ACK.>",
            }.Select(subject =>
                Task.Run(async () =>
                {
                    try
                    {
                        await foreach (NatsMsg<byte[]> message in spy.SubscribeAsync<byte[]>(subject, cancellationToken: ending.Token))
                        {
                            heard.Enqueue($"{subject}: {message.Subject}");
                        }
                    }
                    catch (Exception e) when (e is NatsException or OperationCanceledException) { }
                })
            ),
            .. new[] { "reef", Site }.Select(async site =>
            {
                var worker = new Worker(
                    new WorkerOptions(
                        As("other", "spray"),
                        new Dictionary<string, string> { ["renders"] = shot.Root },
                        1,
                        site,
                        DuneCrate.Imaging.ReadLimits.Default
                    ),
                    line => heard.Enqueue(line)
                );
                try
                {
                    await worker.RunAsync(ending.Token);
                }
                catch (Exception e) when (e is EngineException or OperationCanceledException)
                {
                    // Answers to the other site's inbox are refused to it: it is told that there is nothing for it.
                }
            }),
            new Worker(
                new WorkerOptions(
                    As("worker", "foam"),
                    new Dictionary<string, string> { ["renders"] = shot.Root },
                    1,
                    Site,
                    DuneCrate.Imaging.ReadLimits.Default
                ),
                shot.Said.Enqueue
            ).RunAsync(ending.Token),
        ];
        Assert.Equal(shot.Here, ShotOnDisk.Text(shot.Check(server)));
        Assert.Contains(shot.Said, l => l.Contains("reading renders: KP010/", StringComparison.Ordinal));
        await ending.CancelAsync();
        await Task.WhenAll(tasks);
        Assert.DoesNotContain(
            heard,
            l =>
                l.Contains("reading", StringComparison.Ordinal)
                || l.Contains(": dune.", StringComparison.Ordinal)
                || l.Contains(": _INBOX", StringComparison.Ordinal)
        );
    }
}

using System.Buffers.Binary;
using System.IO.Compression;
using System.Text;
using System.Text.Json.Nodes;
using DuneCrate.Checking.Intake;
using DuneCrate.Engine.Messages;
using DuneCrate.Engine.Workers;
using DuneCrate.Imaging;
using NATS.Client.Core;
using NATS.Client.JetStream;
using NATS.Client.JetStream.Models;

namespace DuneCrate.Engine.Tests;

/// <summary>
/// What a worker that lies, or somebody who got at the engine, sends in place of results: dropped, said once, never kept, and nothing of it
/// comes back. Source: OWASP ASVS 5.0, V2.2 (input is validated on the trusted side), V5.2.3 (bounds on what is unpacked).
/// </summary>
public sealed class HostileResultTests : IDisposable
{
    private readonly Broker _broker = new();
    private readonly ShotOnDisk _shot = new(2);

    public void Dispose()
    {
        _shot.Dispose();
        _broker.Dispose();
    }

    /// <summary>Ways to spoil the result of a piece, as JSON.</summary>
    public static TheoryData<string> Ways() =>
        [
            "no token",
            "another token",
            "no files",
            "too few files",
            "too many files",
            "null file",
            "null parts",
            "null part",
            "part index -1",
            "part index 99",
            "another path",
            "absolute path",
            "huge window",
            "inside-out window",
            "statistics out of range",
            "number beyond doubles",
            "negative count",
            "percentiles of one",
            "no content",
            "short content",
            "aspect 0",
            "type 99",
            "coverage of one byte",
            "not JSON",
            "not Brotli",
            "longer than it says",
            "shorter than it says",
            "a gigabyte of nothing",
            "nothing at all",
        ];

    [Theory]
    [MemberData(nameof(Ways))]
    public async Task Spoilt_results_are_dropped_and_the_report_is_the_same(string way)
    {
        var facts = new KeptFacts();
        EngineOptions soon = _broker.Options with { Lonely = TimeSpan.FromSeconds(3), Reconcile = TimeSpan.FromMinutes(5) };
        await using EngineGatherer server = _shot.Server(_broker, "hostile", facts, soon);
        using var ending = new CancellationTokenSource();
        Task liar = LieAsync(way, ending.Token);
        GC.Collect();
        long before = GC.GetTotalMemory(true);
        string report = await Task.Run(() => ShotOnDisk.Text(_shot.Check(server, facts))).WaitAsync(TimeSpan.FromSeconds(60));
        Assert.Equal(_shot.Here, report);
        Assert.Empty(facts.Mistaken);
        Assert.All(facts.Times, t => Assert.True(t.Value == 1, $"{t.Key} was counted {t.Value} times"));
        Assert.True(
            server.Dropped > 0 || _shot.Said.Any(l => l.Contains("a result was dropped", StringComparison.Ordinal)),
            string.Join('\n', _shot.Said)
        );
        Assert.InRange(GC.GetTotalMemory(true) - before, long.MinValue, 128L << 20);
        await ending.CancelAsync();
        await liar;

        // Nothing is left to come back: the next server of the site takes nothing.
        Broker.Until(() => Pending() == 0 ? "" : null);
        string Count() => string.Join(',', facts.Times.OrderBy(t => t.Key).Select(t => t.Value));
        string kept = Count();
        await using EngineGatherer next = _shot.Server(_broker, "hostile", facts, soon);
        Broker.Until(() => Pending() == 0 ? "" : null);
        Assert.Equal(kept, Count());
    }

    /// <summary>Facts of a run that nobody began are acknowledged and dropped.</summary>
    [Fact]
    public async Task Facts_that_nobody_asked_for_are_not_kept()
    {
        var facts = new KeptFacts();
        await using EngineGatherer server = _shot.Server(_broker, "hostile", facts);
        await using NatsConnection connection = await _broker.Options.ConnectAsync("liar", null, default);
        var engine = new NatsJSContext(connection);
        var names = new EngineNames("hostile");
        WorkMessage work = new(
            "run",
            "piece",
            "token",
            WorkKind.Bulk,
            "renders",
            "KP010",
            FactsDepth.Pixels,
            null,
            [new RequestMessage(null, null)],
            [new WorkFile("kelp/KP010_kelp.1001.exr", 0)],
            []
        );
        FactsMessage found = Reader().Read(work, "liar", _ => { }, default);
        Assert.Null(found.Refused);
        await engine.PublishAsync(names.FactsOf("run", "piece", "token"), MessagePacking.Pack(found));
        Broker.Until(() => server.Dropped > 0 ? "" : null);
        Broker.Until(() => Pending() == 0 ? "" : null);
        Assert.Empty(facts.Times);
    }

    private WorkReader Reader() => new(new Dictionary<string, string> { ["renders"] = _shot.Root }, ReadLimits.Default);

    private int Pending() =>
        (int)
            _broker
                .Options.ConnectAsync("look", null, default)
                .ContinueWith(
                    async c =>
                    {
                        await using NatsConnection connection = await c;
                        INatsJSStream stream = await new NatsJSContext(connection).GetStreamAsync(new EngineNames("hostile").Facts);
                        return stream.Info.State.Messages;
                    },
                    TaskScheduler.Default
                )
                .Unwrap()
                .GetAwaiter()
                .GetResult();

    /// <summary>Takes pieces as a worker does, and answers with something else.</summary>
    private async Task LieAsync(string way, CancellationToken end)
    {
        await using NatsConnection connection = await _broker.Options.ConnectAsync("liar", null, default);
        var engine = new NatsJSContext(connection);
        var names = new EngineNames("hostile");
        INatsJSConsumer consumer = await engine.GetConsumerAsync(names.Work, EngineNames.Consumer(WorkKind.Single, "renders"), end);
        try
        {
            while (!end.IsCancellationRequested)
            {
                if (
                    await consumer.NextAsync<byte[]>(opts: new NatsJSNextOpts { Expires = TimeSpan.FromSeconds(1) }, cancellationToken: end)
                    is not { } message
                )
                {
                    continue;
                }

                WorkMessage work = MessagePacking.Unpack<WorkMessage>(message.Data);
                byte[] lie = Spoil(way, Reader().Read(work, "liar", _ => { }, end));
                PubAckResponse answer = await engine.PublishAsync(
                    names.FactsOf(work.Run, work.Piece, work.Token),
                    lie,
                    cancellationToken: end
                );
                Assert.Null(answer.Error);
                await message.AckAsync(cancellationToken: end);
            }
        }
        catch (OperationCanceledException) { }
    }

    private static byte[] Spoil(string way, FactsMessage found)
    {
        byte[] packed = MessagePacking.Pack(found);
        JsonObject result = JsonNode.Parse(TextOf(packed))!.AsObject();
        JsonArray files = result["files"]!.AsArray();
        JsonObject? file = files.Count > 0 ? files[0]!["facts"]!.AsObject() : null,
            part = file?["parts"] is JsonArray { Count: > 0 } parts ? parts[0]!.AsObject() : null,
            channel = part?["channels"]![0]!.AsObject();
        switch (way)
        {
            case "no token":
                result.Remove("token");
                break;
            case "another token":
                result["token"] = new string('0', 32);
                break;
            case "no files":
                result["files"] = null;
                break;
            case "too few files":
                files.Clear();
                break;
            case "too many files":
                files.Add(files[0]!.DeepClone());
                break;
            case "null file":
                files[0] = null;
                break;
            case "null parts":
                file!["parts"] = null;
                break;
            case "null part":
                file!["parts"] = new JsonArray((JsonNode?)null);
                break;
            case "part index -1":
                Set(part, "index", -1, file!);
                break;
            case "part index 99":
                Set(part, "index", 99, file!);
                break;
            case "another path":
                file!["path"] = "kelp/KP010_kelp.9999.exr";
                break;
            case "absolute path":
                file!["path"] = "/etc/hostname";
                break;
            case "huge window":
                Set(part, "dataWindow", new JsonArray(-2147483648, -2147483648, 2147483647, 2147483647), file!);
                break;
            case "inside-out window":
                Set(part, "dataWindow", new JsonArray(9, 9, 0, 0), file!);
                break;
            case "statistics out of range":
                Set(channel, "pixels", 1L << 60, file!);
                break;
            case "negative count":
                Set(channel, "nan", -5, file!);
                break;
            case "percentiles of one":
                Set(channel, "percentiles", new JsonArray(1), file!);
                break;
            case "no content":
                files[0]!["content"] = "";
                break;
            case "short content":
                files[0]!["content"] = "AAAA";
                break;
            case "aspect 0":
                Set(part, "pixelAspectRatio", 0, file!);
                break;
            case "type 99":
                Set(channel, "type", "float99", file!);
                break;
            case "coverage of one byte":
                Set(part, "passes", new JsonArray(new JsonObject { ["pass"] = "beauty", ["coverage"] = "AA==" }), file!);
                break;
            case "number beyond doubles":
                return Packed(result.ToJsonString().Replace("\"mean\":", "\"mean\":1e999,\"was\":", StringComparison.Ordinal));
            case "not JSON":
                return Packed("{\"files\":");
            case "not Brotli":
                return [10, 0, 0, 0, 1, 2, 3, 4, 5, 6, 7, 8];
            case "longer than it says":
                BinaryPrimitives.WriteInt32LittleEndian(packed, 10);
                return packed;
            case "shorter than it says":
                BinaryPrimitives.WriteInt32LittleEndian(packed, 60 << 20);
                return packed;
            case "a gigabyte of nothing":
                return Gigabyte.Value;
            case "nothing at all":
                return [];
        }

        return Packed(result.ToJsonString());
    }

    /// <summary>Sets a field; where the file has no such thing, its path.</summary>
    private static void Set(JsonObject? of, string field, JsonNode value, JsonObject file)
    {
        if (of is null)
        {
            file["path"] = "elsewhere";
        }
        else
        {
            of[field] = value;
        }
    }

    private static string TextOf(byte[] packed)
    {
        using var brotli = new BrotliStream(new MemoryStream(packed, 4, packed.Length - 4), CompressionMode.Decompress);
        using var reader = new StreamReader(brotli);
        return reader.ReadToEnd();
    }

    private static byte[] Packed(string text)
    {
        byte[] bytes = Encoding.UTF8.GetBytes(text);
        using var packed = new MemoryStream();
        packed.Write(BitConverter.GetBytes(bytes.Length));
        using (var brotli = new BrotliStream(packed, CompressionLevel.Fastest, leaveOpen: true))
        {
            brotli.Write(bytes);
        }

        return packed.ToArray();
    }

    private static readonly Lazy<byte[]> Gigabyte = new(() =>
    {
        using var packed = new MemoryStream();
        packed.Write(BitConverter.GetBytes(1 << 30));
        using (var brotli = new BrotliStream(packed, CompressionLevel.Fastest, leaveOpen: true))
        {
            byte[] nothing = new byte[1 << 20];
            for (int i = 0; i < 1 << 10; i++)
            {
                brotli.Write(nothing);
            }
        }

        return packed.ToArray();
    });
}

using NATS.Client.JetStream;
using NATS.Client.JetStream.Models;

namespace DuneCrate.Engine;

/// <summary>
/// The streams and consumers of a site, made where they are missing and brought to what is wanted. Old servers pass over settings that
/// they do not know, so that what they made is compared.
/// </summary>
internal static class EngineStreams
{
    /// <summary>The consumer of results and of advice.</summary>
    public const string Server = "server";

    private const long MostAdvice = 100_000;
    private const int BulkTries = 2,
        SingleTries = 3;

    /// <summary>Times that a piece of work is given out before it is given up.</summary>
    public static int Tries(WorkKind kind) => kind == WorkKind.Bulk ? BulkTries : SingleTries;

    /// <summary>The engine's number for "the subject has another message". Source: the NATS server's errors.json, 10071.</summary>
    private const int WrongLastSequence = 10071;

    /// <summary>
    /// A message that is only taken while its subject has none. Source: NATS, JetStream headers,
    /// <c>Nats-Expected-Last-Subject-Sequence</c>.
    /// </summary>
    public static readonly NatsJSPubOpts OnlyOne = new() { ExpectedLastSubjectSequence = 0 };

    /// <summary>Whether a message of that sort was refused because its subject has one; a queue that is full has another number.</summary>
    public static bool IsTaken(ApiError error) => error.ErrCode == WrongLastSequence;

    /// <summary>Makes them.</summary>
    /// <exception cref="EngineException">The engine made something else of it.</exception>
    public static async Task EnsureAsync(
        INatsJSContext engine,
        EngineNames names,
        IEnumerable<string> roots,
        EngineOptions options,
        CancellationToken cancel
    )
    {
        await QueueAsync(engine, names.Work, names.AllWork, options.MostWork, -1, cancel);
        await QueueAsync(engine, names.Facts, names.AllFacts, -1, options.MostFacts, cancel);
        await engine.CreateOrUpdateStreamAsync(
            new StreamConfig(names.Advice, [names.AllAdvice])
            {
                Retention = StreamConfigRetention.Workqueue,
                MaxAge = TimeSpan.FromDays(7),
                MaxMsgs = MostAdvice,
                Discard = StreamConfigDiscard.Old,
            },
            cancel
        );
        foreach (string root in roots)
        {
            foreach (WorkKind kind in Enum.GetValues<WorkKind>())
            {
                await ConsumerAsync(
                    engine,
                    names.Work,
                    new ConsumerConfig(EngineNames.Consumer(kind, root))
                    {
                        FilterSubject = names.WorkOf(kind, root),
                        MaxDeliver = Tries(kind),
                        AckWait = options.AckWait,
                        MaxAckPending = options.MostWork,
                    },
                    cancel
                );
            }
        }

        await ConsumerAsync(engine, names.Facts, new ConsumerConfig(Server) { AckWait = options.AckWait }, cancel);
        await ConsumerAsync(engine, names.Advice, new ConsumerConfig(Server) { AckWait = options.AckWait }, cancel);
    }

    /// <summary>Deletes them: a run of the command line leaves nothing behind.</summary>
    public static async Task DeleteAsync(INatsJSContext engine, EngineNames names, CancellationToken cancel)
    {
        foreach (string stream in new[] { names.Work, names.Facts, names.Advice })
        {
            await Quietly.DoAsync(() => engine.DeleteStreamAsync(stream, cancel).AsTask());
        }
    }

    /// <summary>Deletes what runs of the command line left behind that were killed.</summary>
    /// <param name="engine">The engine.</param>
    /// <param name="clock">The clock by which they are old.</param>
    /// <param name="age">How old a site must be.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task SweepAsync(INatsJSContext engine, TimeProvider clock, TimeSpan age, CancellationToken cancel)
    {
        var left = new List<EngineNames>();
        await foreach (INatsJSStream stream in engine.ListStreamsAsync(cancellationToken: cancel))
        {
            if (
                EngineNames.SiteOf(stream.Info.Config.Name ?? "") is { } site
                && EngineNames.IsPassing(site)
                && clock.GetUtcNow() - stream.Info.Created >= age
            )
            {
                left.Add(new EngineNames(site));
            }
        }

        foreach (EngineNames names in left)
        {
            await DeleteAsync(engine, names, cancel);
        }
    }

    private static async Task QueueAsync(
        INatsJSContext engine,
        string name,
        string subjects,
        long messages,
        long bytes,
        CancellationToken cancel
    )
    {
        var wanted = new StreamConfig(name, [subjects])
        {
            Retention = StreamConfigRetention.Workqueue,
            Storage = StreamConfigStorage.File,
            Discard = StreamConfigDiscard.New,
            DiscardNewPerSubject = true,
            MaxMsgsPerSubject = 1,
            MaxMsgs = messages,
            MaxBytes = bytes,
        };
        StreamConfig made = (await engine.CreateOrUpdateStreamAsync(wanted, cancel)).Info.Config;
        if (!made.DiscardNewPerSubject || made.MaxMsgsPerSubject != 1 || made.Retention != StreamConfigRetention.Workqueue)
        {
            throw new EngineException($"the engine does not keep one message a subject in {name}; it takes nats-server 2.9 or newer.");
        }
    }

    private static async Task ConsumerAsync(INatsJSContext engine, string stream, ConsumerConfig wanted, CancellationToken cancel)
    {
        wanted.AckPolicy = ConsumerConfigAckPolicy.Explicit;
        wanted.DeliverPolicy = ConsumerConfigDeliverPolicy.All;
        ConsumerConfig made = (await engine.CreateOrUpdateConsumerAsync(stream, wanted, cancel)).Info.Config;
        if (made.AckWait != wanted.AckWait || (wanted.MaxDeliver > 0 && made.MaxDeliver != wanted.MaxDeliver))
        {
            throw new EngineException($"the engine made another consumer {wanted.Name} of {stream} than was asked for; delete it there.");
        }
    }
}

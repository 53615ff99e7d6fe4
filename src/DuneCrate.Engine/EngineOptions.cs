using NATS.Client.Core;
using NATS.Client.JetStream;
using NATS.NKeys;

namespace DuneCrate.Engine;

/// <summary>Where the engine is, how one signs in there, and how patient one is with it.</summary>
/// <param name="Address"><c>nats://host:port</c> or <c>tls://host:port</c>, with <c>user:password@</c> where it asks for them.</param>
public sealed record EngineOptions(Uri Address)
{
    private const int UsualPort = 4222;

    /// <summary>A credentials file (<c>.creds</c>) or a file with an nkey seed; null without.</summary>
    public string? Credentials { get; init; }

    /// <summary>Certificate of the authority that signed the engine's, as PEM; null for those that the machine trusts.</summary>
    public string? TlsAuthority { get; init; }

    /// <summary>This program's own certificate as PEM; null without.</summary>
    public string? TlsCertificate { get; init; }

    /// <summary>Its key as PEM.</summary>
    public string? TlsKey { get; init; }

    /// <summary>How long a reader that gives no sign may keep a piece of work.</summary>
    public TimeSpan AckWait { get; init; } = TimeSpan.FromSeconds(30);

    /// <summary>Pieces of work that the engine holds at most.</summary>
    public long MostWork { get; init; } = 10_000;

    /// <summary>Bytes of results that it holds at most while this server is away.</summary>
    public long MostFacts { get; init; } = 1L << 30;

    /// <summary>How often what is out is asked for again, in case that it was lost.</summary>
    public TimeSpan Reconcile { get; init; } = TimeSpan.FromSeconds(15);

    /// <summary>How long one waits for a machine that has the storage before reading oneself.</summary>
    public TimeSpan Lonely { get; init; } = TimeSpan.FromSeconds(5);

    /// <summary>How long the engine may be away before one reads oneself.</summary>
    public TimeSpan Away { get; init; } = TimeSpan.FromSeconds(5);

    /// <summary>How long one call to the engine may take.</summary>
    public TimeSpan Call { get; init; } = TimeSpan.FromSeconds(2);

    /// <summary>How long it may take to give the engine a message.</summary>
    public TimeSpan Publish { get; init; } = TimeSpan.FromSeconds(5);

    /// <summary>How long one waits for the engine to answer.</summary>
    public TimeSpan Answer { get; init; } = TimeSpan.FromSeconds(5);

    /// <summary>What tells the time, and how long something took whatever becomes of the time of day.</summary>
    public TimeProvider Clock { get; init; } = TimeProvider.System;

    /// <summary>The options of an address as people write it.</summary>
    /// <exception cref="ArgumentException">It is none; the message says how to write it.</exception>
    public static EngineOptions At(string address) =>
        Uri.TryCreate(address.Contains("://", StringComparison.Ordinal) ? address : $"nats://{address}", UriKind.Absolute, out Uri? uri)
        && uri.Scheme is "nats" or "tls"
        && uri.Host.Length > 0
        && uri.AbsolutePath is "/" or ""
            ? new EngineOptions(uri)
            : throw new ArgumentException($"'{address}' is no address of an engine; write --engine nats://host:4222.");

    /// <summary>The address without what one signs in with, for people.</summary>
    public string Shown => $"{Address.Scheme}://{Address.Host}:{Port}";

    private int Port => Address.Port > 0 ? Address.Port : UsualPort;

    /// <summary>Connects, and sees that JetStream is there.</summary>
    /// <param name="name">Who connects, for the engine's own lists.</param>
    /// <param name="site">The site that its answers are for; null for a worker of all.</param>
    /// <param name="cancel">Gives up.</param>
    /// <exception cref="EngineException">There is none, it refuses, or it has no JetStream.</exception>
    public async Task<NatsConnection> ConnectAsync(string name, string? site, CancellationToken cancel)
    {
        NatsOpts options = Options(name, site);
        var connection = new NatsConnection(options);
        try
        {
            await connection.ConnectAsync().AsTask().WaitAsync(Answer, cancel);
            await new NatsJSContext(connection).GetAccountInfoAsync(cancel).AsTask().WaitAsync(Answer, cancel);
            return connection;
        }
        catch (Exception e) when (e is NatsException or TimeoutException or IOException or OperationCanceledException)
        {
            await Quietly.DisposeAsync(connection);
            cancel.ThrowIfCancellationRequested();
            throw new EngineException(Words(e), e);
        }
    }

    private string Words(Exception failure)
    {
        string said = string.Join(' ', Chain(failure).Select(e => e.Message));
        bool Says(string word) => said.Contains(word, StringComparison.OrdinalIgnoreCase);
        return Says("authorization") || Says("nkey") || Says("permissions")
                ? $"the engine at {Shown} refuses to let this program in; look at name and password in its address, or at --credentials."
            : Says("tls") || Says("certificate") || Says("ssl") || Says("authentication")
                ? $"the engine at {Shown} and this program do not agree on TLS; look at --tls-ca, --tls-cert and --tls-key."
            : failure is NatsJSException
                ? $"the engine at {Shown} answers, but gives this program no JetStream; start nats-server with -js, "
                    + $"or look at the rights of its user."
            : $"no engine answers at {Shown}; start it (nats-server -js), or look at the address and the firewall.";
    }

    private static IEnumerable<Exception> Chain(Exception? failure)
    {
        for (; failure is not null; failure = failure.InnerException)
        {
            yield return failure;
        }
    }

    private NatsOpts Options(string name, string? site)
    {
        string[] user = Address.UserInfo.Length > 0 ? Address.UserInfo.Split(':', 2) : [];
        string? seed = Credentials is null ? null : SeedIn(Credentials);
        bool isTls = Address.Scheme == "tls" || TlsAuthority is not null || TlsCertificate is not null;
        return NatsOpts.Default with
        {
            Name = name,
            InboxPrefix = EngineNames.Inbox(site, user is [var known, ..] ? Uri.UnescapeDataString(known) : "worker"),
            Url = $"nats://{Address.Host}:{Port}",
            ConnectTimeout = Answer,
            RequestTimeout = Answer,
            MaxReconnectRetry = -1,
            ReconnectWaitMin = TimeSpan.FromMilliseconds(200),
            ReconnectWaitMax = TimeSpan.FromSeconds(2),
            AuthOpts = NatsAuthOpts.Default with
            {
                Username = user.Length > 0 ? Uri.UnescapeDataString(user[0]) : null,
                Password = user.Length > 1 ? Uri.UnescapeDataString(user[1]) : null,
                CredsFile = seed is null ? Credentials : null,
                NKey = seed is null ? null : KeyOf(seed),
                Seed = seed,
            },
            TlsOpts = NatsTlsOpts.Default with
            {
                Mode = isTls ? TlsMode.Require : TlsMode.Auto,
                CaFile = TlsAuthority,
                CertFile = TlsCertificate,
                KeyFile = TlsKey,
            },
        };
    }

    /// <summary>The seed in a file that holds nothing else; null for credentials, which hold more.</summary>
    private static string? SeedIn(string file)
    {
        try
        {
            string text = File.ReadAllText(file);
            return text.Contains("JWT", StringComparison.Ordinal) ? null : text.Trim();
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new EngineException($"the credentials {file} cannot be read; look at the path and its permissions.", e);
        }
    }

    /// <summary>The key that engines know the owner of a seed by.</summary>
    private string KeyOf(string seed)
    {
        try
        {
            using var pair = KeyPair.FromSeed(seed);
            return pair.GetPublicKey();
        }
        catch (Exception e) when (e is NKeysException or ArgumentException or FormatException or IndexOutOfRangeException)
        {
            throw new EngineException($"{Credentials} holds neither credentials nor a seed; ask whoever runs the engine for one.", e);
        }
    }
}

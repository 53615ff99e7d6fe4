using System.CommandLine;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Intake.Gathering;
using DuneCrate.Core.Storage;
using DuneCrate.Engine;

namespace DuneCrate.Cli.Engines;

/// <summary>The options by which a verb has other machines read, or reads for them.</summary>
internal sealed class EngineArguments
{
    private readonly Option<string?> _engine =
            new("--engine") { Description = "Address of the engine (NATS with JetStream): nats://host:4222" },
        _credentials = new("--credentials") { Description = "With --engine: file with credentials or an nkey seed" },
        _authority = new("--tls-ca") { Description = "With --engine: certificate of the authority that signed the engine's (PEM)" },
        _certificate = new("--tls-cert") { Description = "With --engine: this program's certificate (PEM)" },
        _key = new("--tls-key") { Description = "With --engine: its key (PEM)" };

    /// <summary>All of them.</summary>
    public IEnumerable<Option> All => [_engine, _credentials, _authority, _certificate, _key];

    /// <summary>The engine that was named, or null.</summary>
    /// <exception cref="ArgumentException">It is no address, or something else is missing.</exception>
    public EngineOptions? Read(ParseResult parsed)
    {
        if (parsed.GetValue(_engine) is { } address)
        {
            return EngineOptions.At(address) with
            {
                Credentials = File(parsed, _credentials),
                TlsAuthority = File(parsed, _authority),
                TlsCertificate = File(parsed, _certificate),
                TlsKey = File(parsed, _key),
            };
        }

        return All.Skip(1).FirstOrDefault(o => parsed.GetResult(o) is { Implicit: false }) is { } lonely
            ? throw new ArgumentException($"{lonely.Name} goes with --engine ADDRESS.")
            : null;
    }

    /// <summary>Has the workers of an engine read a folder, as a site of its own that is gone afterwards.</summary>
    /// <param name="engine">The engine.</param>
    /// <param name="folder">The folder that is read.</param>
    /// <param name="roots">The roots as they were written: NAME=DIR.</param>
    /// <param name="cancel">Stops.</param>
    /// <exception cref="EngineException">The engine cannot be used.</exception>
    /// <exception cref="ArgumentException">The folder lies in no root.</exception>
    public static async Task<EngineGatherer> ConnectAsync(
        EngineOptions engine,
        StoragePath folder,
        IEnumerable<string> roots,
        CancellationToken cancel
    )
    {
        Dictionary<string, string> named = NamedRoots.Read(roots).ToDictionary(r => r.Key, r => StorageRoot.At(r.Value).FullPath);
        if (!named.Values.Any(top => $"{folder.FullPath}/".StartsWith($"{top}/", StringComparison.Ordinal)))
        {
            throw new ArgumentException(
                $"{folder.Display} lies in no root, so that no worker could find it; name the root that holds it as workers do: --root NAME=DIR."
            );
        }

        string site = $"check-{Environment.ProcessId}-{Guid.NewGuid().ToString("N")[..6]}";
        var gatherer = new EngineGatherer(
            engine,
            new EngineNames(site),
            named,
            new NoFactsCache(),
            line => Terminal.Tell($"dune: {line}"),
            isPassing: true
        );
        await gatherer.ConnectAsync(cancel);
        return gatherer;
    }

    private static string? File(ParseResult parsed, Option<string?> option) =>
        parsed.GetValue(option) is not { } path ? null
        : System.IO.File.Exists(path) ? path
        : throw new FileNotFoundException($"There is no file {path} for {option.Name}.");
}

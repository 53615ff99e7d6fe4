using System.CommandLine;

namespace DuneCrate.Engine;

/// <summary>The options by which a verb has other machines read, or reads for them.</summary>
public sealed class EngineArguments
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

    private static string? File(ParseResult parsed, Option<string?> option) =>
        parsed.GetValue(option) is not { } path ? null
        : System.IO.File.Exists(path) ? path
        : throw new FileNotFoundException($"There is no file {path} for {option.Name}.");
}

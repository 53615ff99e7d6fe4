using System.CommandLine;

namespace DuneCrate.Cli.Remote;

/// <summary>The options by which a verb does on a server what it else does here.</summary>
internal sealed class ServerOptions
{
    private readonly Option<string?> _server =
            new("--server") { Description = "Do it on a server: its address, such as http://render1:5000" },
        _token = new("--token-file") { Description = "File with the token for the show; else the variable DUNE_TOKEN" },
        _shot = new("--shot") { Description = "With --server: the shot, as SHOW/SHOT" };

    /// <summary>All of them.</summary>
    public IEnumerable<Option> All => [_server, _token, _shot];

    /// <summary>The server that was named, or null.</summary>
    /// <exception cref="ArgumentException">Something is missing or no address.</exception>
    public Server? Read(ParseResult parsed)
    {
        if (parsed.GetValue(_server) is not { } address)
        {
            return parsed.GetValue(_shot) is null
                ? null
                : throw new ArgumentException("--shot goes with --server ADDRESS; without a server, name the folder.");
        }

        string[] shot = (parsed.GetValue(_shot) ?? "").Split('/');
        string? token = parsed.GetValue(_token) is { } file
            ? File.ReadAllText(file).Trim()
            : Environment.GetEnvironmentVariable("DUNE_TOKEN")?.Trim();
        return !Uri.TryCreate(address, UriKind.Absolute, out Uri? uri) || uri.Scheme is not ("http" or "https")
                ? throw new ArgumentException($"'{address}' is not the address of a server; write --server http://render1:5000.")
            : shot is not [{ Length: > 0 }, { Length: > 0 }] ? throw new ArgumentException("Say which shot is meant: --shot KELP/KP010.")
            : string.IsNullOrEmpty(token)
                ? throw new ArgumentException(
                    "The server wants a token: --token-file FILE, or the variable DUNE_TOKEN. A wrangler makes one on the "
                        + "show's page of tokens."
                )
            : new Server(uri, shot[0], shot[1], token);
    }
}

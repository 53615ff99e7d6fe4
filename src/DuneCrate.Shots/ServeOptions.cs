using System.Net;
using DuneCrate.Engine;
using DuneCrate.Foundation.Storage;
using DuneCrate.Store.Keeping;

namespace DuneCrate.Shots;

/// <summary>What the application runs on, checked where it is made.</summary>
/// <param name="DataFolder">Folder of the database and keys.</param>
/// <param name="Port">Port, or 0 for a free one.</param>
/// <param name="Bind">Address to listen on.</param>
/// <param name="Roots">Storage roots: name to folder.</param>
/// <param name="CratesFolder">Folder under which crates are made.</param>
/// <param name="IsDemo">Whether the demo show is made when it is not there.</param>
public sealed record ServeOptions(
    string DataFolder,
    int Port,
    IPAddress Bind,
    IReadOnlyDictionary<string, string> Roots,
    string CratesFolder,
    bool IsDemo
)
{
    /// <summary>Stands in a folder that the demo made: only such a folder is ever thrown away.</summary>
    private const string DemoMark = ".dune-crate-demo";

    /// <summary>
    /// Whether there is a stand-in farm: in the demo, and nowhere else unless asked for, because it writes made-up frames.
    /// </summary>
    public bool HasFarm { get; init; } = IsDemo;

    /// <summary>Whether nobody else works in the process, so that its memory is the application's to look after.</summary>
    public bool HasOwnProcess { get; init; }

    /// <summary>The clock that sessions, limits and links go by.</summary>
    public TimeProvider Clock { get; init; } = TimeProvider.System;

    /// <summary>Checks that go on at once where other machines read for them.</summary>
    public const int ChecksWithEngine = 4;

    /// <summary>The engine over which other machines read for this server; null when it reads itself.</summary>
    public EngineOptions? Engine { get; init; }

    /// <summary>Whether people sign in; without, one person works on one machine.</summary>
    public bool HasAccounts { get; init; } = true;

    /// <summary>The same for one person on one machine, without accounts.</summary>
    /// <exception cref="ArgumentException">Other machines could reach it.</exception>
    public ServeOptions WithoutAccounts() =>
        IPAddress.IsLoopback(Bind)
            ? this with
            {
                HasAccounts = false,
            }
            : throw new ArgumentException(
                $"Without accounts anybody who reaches {Bind} could do everything, under any name. Leave --without-accounts "
                    + $"out, or bind to "
                    + "127.0.0.1."
            );

    /// <summary>The demo in a folder of its own.</summary>
    /// <exception cref="ArgumentException">The folder is to be thrown away or used and was not made by the demo.</exception>
    /// <exception cref="IOException">The folder is in use.</exception>
    public static ServeOptions ForDemo(string folder, int port, bool fresh)
    {
        folder = Path.GetFullPath(folder);
        string mark = Path.Combine(folder, DemoMark);
        bool isThere = Directory.Exists(folder) && Directory.EnumerateFileSystemEntries(folder).Any();
        if (fresh && isThere && !File.Exists(mark))
        {
            throw new ArgumentException(
                $"{folder} was not made by the demo (it has no {DemoMark}), so nothing in it is deleted. Delete it yourself if it "
                    + $"is an older demo, or name another folder with --data."
            );
        }

        if (fresh && isThere)
        {
            using DataFolder held = Store.Keeping.DataFolder.Take(folder);
            held.Empty();
            isThere = false;
        }

        string renders = Path.Combine(folder, "renders"),
            crates = Path.Combine(folder, "crates");
        Directory.CreateDirectory(renders);
        Directory.CreateDirectory(crates);
        if (!isThere)
        {
            File.WriteAllText(mark, "The Dune Crate demo made this folder; ./dune demo --fresh throws it away.\n");
        }

        return new ServeOptions(folder, port, IPAddress.Loopback, new Dictionary<string, string> { ["renders"] = renders }, crates, true);
    }

    /// <summary>Real folders. Each root is written NAME=DIR.</summary>
    /// <exception cref="ArgumentException">A root is not written so, is named twice, or is no folder; or nothing is known of the
    /// address.</exception>
    public static ServeOptions ForServe(string data, int port, string bind, IEnumerable<string> roots)
    {
        Dictionary<string, string> folders = NamedRoots.Read(roots);
        if (folders.FirstOrDefault(f => !Directory.Exists(f.Value)) is { Key: { } name, Value: var folder })
        {
            throw new ArgumentException($"The root {name} is no folder: {folder}.");
        }

        if (port is < 0 or > ushort.MaxValue)
        {
            throw new ArgumentException($"{port} is not a port; use 0 to {ushort.MaxValue}, 0 for a free one.");
        }

        string crates = folders.TryGetValue("crates", out string? given) ? given : Path.Combine(data, "crates");
        folders.Remove("crates");
        return new ServeOptions(Path.GetFullPath(data), port, Address(bind), folders, Path.GetFullPath(crates), false);
    }

    /// <summary>An address, or the first address of a name.</summary>
    private static IPAddress Address(string bind)
    {
        if (IPAddress.TryParse(bind, out IPAddress? address))
        {
            return address;
        }

        try
        {
            return Dns.GetHostAddresses(bind) is [var first, ..] ? first : throw new ArgumentException(Unknown(bind));
        }
        catch (Exception e) when (e is System.Net.Sockets.SocketException or ArgumentException)
        {
            throw new ArgumentException(Unknown(bind), e);
        }
    }

    private static string Unknown(string bind) =>
        $"'{bind}' is neither an address nor the name of one; write --bind 127.0.0.1, --bind 0.0.0.0 or --bind localhost.";
}

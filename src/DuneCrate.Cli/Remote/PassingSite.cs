using DuneCrate.Checking.Intake;
using DuneCrate.Commands;
using DuneCrate.Engine;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Cli.Remote;

/// <summary>Workers of an engine, for one run of the command line.</summary>
internal static class PassingSite
{
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
        var gatherer = new EngineGatherer(engine, EngineNames.OfRun(), named, new NoFactsCache(), line => Terminal.Tell($"dune: {line}"));
        if (!gatherer.Has(folder))
        {
            throw new ArgumentException(
                $"{folder.Display} lies in no root, so that no worker could find it; name the root that holds it as workers do: "
                    + "--root NAME=DIR."
            );
        }

        await gatherer.ConnectAsync(cancel);
        return gatherer;
    }
}

using System.CommandLine;
using DuneCrate.Commands;
using DuneCrate.Engine;
using DuneCrate.Engine.Workers;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune worker --engine ADDRESS --root NAME=DIR</c></summary>
internal static class WorkerVerb
{
    /// <summary>Name of the verb.</summary>
    public const string Name = "worker";

    private const int MostThreads = 256;

    public static Command Create()
    {
        var engine = new EngineArguments();
        var roots = new Option<string[]>("--root")
        {
            Description = "NAME=DIR: a folder that is mounted here, under the name that servers give it; as often as wanted",
            DefaultValueFactory = _ => [],
        };
        var threads = new Option<int>("--threads")
        {
            Description = "Files read at once",
            DefaultValueFactory = _ => Environment.ProcessorCount,
        };
        var site = new Option<string?>("--site") { Description = "Work for this server alone; its page of machines tells its site" };
        var verb = new Command(Name, "Read files for servers and commands that use the same engine.") { roots, threads, site };
        foreach (Option option in engine.All)
        {
            verb.Options.Add(option);
        }

        verb.SetAction(
            (parsed, cancel) =>
                Outcome.RunAsync(async () =>
                {
                    EngineOptions address =
                        engine.Read(parsed) ?? throw new ArgumentException("Name the engine: --engine nats://host:4222.");
                    Dictionary<string, string> named = NamedRoots.Read(parsed.GetValue(roots)!);
                    if (named.Count == 0)
                    {
                        throw new ArgumentException("Name at least one folder that is mounted here: --root renders=/path/to/renders.");
                    }

                    int count = parsed.GetValue(threads);
                    if (count is < 1 or > MostThreads)
                    {
                        throw new ArgumentException($"{count} threads cannot be; use 1 to {MostThreads}.");
                    }

                    if (parsed.GetValue(site) is { } only && EngineNames.Problem(only) is { } problem)
                    {
                        throw new ArgumentException(problem);
                    }

                    await new Worker(
                        new WorkerOptions(address, named, count, parsed.GetValue(site), Shared.Limits()),
                        line => Terminal.Tell($"dune: {line}")
                    ).RunAsync(cancel);
                    return Outcome.Done;
                })
        );
        return verb;
    }
}

using System.CommandLine;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Cli.Remote;
using DuneCrate.Commands;
using DuneCrate.Engine;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune check FOLDER</c></summary>
internal static class CheckVerb
{
    public static Command Create()
    {
        var folder = new Argument<string?>("FOLDER")
        {
            Description = "The folder to check; none with --server",
            Arity = ArgumentArity.ZeroOrOne,
        };
        var remote = new ServerOptions();
        var engine = new EngineArguments();
        var options = new CheckOptions();
        var verb = new Command("check", "Sequences and findings of a folder.") { folder };
        foreach (Option option in options.All.Concat(remote.All).Concat(engine.All))
        {
            verb.Options.Add(option);
        }

        verb.SetAction(
            (parsed, cancel) =>
                Outcome.RunAsync(() =>
                    options.AnswerAsync(
                        parsed,
                        sheet =>
                            remote.Read(parsed) is { } server
                                ? server.CheckAsync(parsed.GetValue(options.Depth), cancel)
                                : HereAsync(
                                    parsed.GetValue(folder)
                                        ?? throw new ArgumentException("Name the folder to check, or a server. See ./dune check --help."),
                                    parsed.GetValue(options.Roots),
                                    sheet,
                                    parsed.GetValue(options.Depth),
                                    engine.Read(parsed),
                                    cancel
                                )
                    )
                )
        );
        return verb;
    }

    /// <summary>The report of a folder that lies here, its pixels read by workers where an engine is named.</summary>
    private static async Task<CheckReport> HereAsync(
        string folder,
        string[]? roots,
        Plan? sheet,
        FactsDepth depth,
        EngineOptions? engine,
        CancellationToken cancel
    )
    {
        StoragePath place = Shared.Folder(folder, roots);
        if (engine is not null && depth == FactsDepth.Header)
        {
            Terminal.Tell("dune: headers are read here: asking workers for one takes longer than reading it.");
        }

        EngineGatherer? workers = engine is null ? null : await PassingSite.ConnectAsync(engine, place, roots ?? [], cancel);
        try
        {
            return CheckHere.Run(place, sheet, depth, workers, cancel);
        }
        finally
        {
            await (workers?.DisposeAsync() ?? ValueTask.CompletedTask);
        }
    }
}

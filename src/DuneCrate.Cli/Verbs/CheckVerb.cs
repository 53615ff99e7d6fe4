using System.CommandLine;
using DuneCrate.Cli.Remote;
using DuneCrate.Core.Checks.Reports;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Storage;
using DuneCrate.Engine;

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
        var plan = new Option<string?>("--plan") { Description = "The plan to hold it against; without one, what can be judged without" };
        Option<FactsDepth> depth = Shared.Depth(FactsDepth.Header);
        var json = new Option<string?>("--json") { Description = "Write the report to a file; - for standard output" };
        var csv = new Option<string?>("--csv") { Description = "Write the findings as CSV" };
        var rerun = new Option<string?>("--rerun")
        {
            Description = "Write the rerun list: as JSON or plain text by the file's extension (.json, .txt), else as CSV",
        };
        var chunk = new Option<int>("--chunk") { Description = "Most frames of one portion of the rerun list; 0 for whole layers" };
        var html = new Option<string?>("--html") { Description = "Write the report as one self-contained page" };
        Option<string[]> roots = Shared.Roots();
        var verb = new Command("check", "Sequences and findings of a folder.")
        {
            folder,
            plan,
            depth,
            json,
            csv,
            rerun,
            chunk,
            html,
            roots,
        };
        foreach (Option option in remote.All.Concat(engine.All))
        {
            verb.Options.Add(option);
        }

        verb.SetAction(
            (parsed, cancel) =>
                Task.FromResult(
                    Outcome.Run(() =>
                    {
                        Plan? sheet = parsed.GetValue(plan) is { } path ? Shared.ReadPlan(path) : null;
                        CheckReport report = remote.Read(parsed) is { } server
                            ? server.CheckAsync(parsed.GetValue(depth), cancel).GetAwaiter().GetResult()
                            : Here(
                                parsed.GetValue(folder)
                                    ?? throw new ArgumentException("Name the folder to check, or a server. See ./dune check --help."),
                                parsed.GetValue(roots),
                                sheet,
                                parsed.GetValue(depth),
                                engine.Read(parsed),
                                cancel
                            );
                        Shared.Write(parsed.GetValue(json), report.Write);
                        Shared.Write(parsed.GetValue(csv), () => ReportCsv.Findings(report));
                        Shared.Write(
                            parsed.GetValue(html),
                            () =>
                                ReportPage.Write(
                                    report,
                                    $"Check of {sheet?.Shot.Code ?? Path.GetFileName(Path.TrimEndingDirectorySeparator(report.Root))}"
                                )
                        );
                        var again = RerunList.From(report, parsed.GetValue(chunk), sheet?.Shot.Code);
                        Shared.Write(
                            parsed.GetValue(rerun),
                            () =>
                                Path.GetExtension(parsed.GetValue(rerun)) switch
                                {
                                    ".json" => again.Write(),
                                    ".txt" => again.WriteText(),
                                    _ => ReportCsv.Rerun(again),
                                }
                        );
                        return CheckHere.Tell(report, !new[] { json, csv, rerun, html }.Any(o => parsed.GetValue(o) == "-"));
                    })
                )
        );
        return verb;
    }

    /// <summary>The report of a folder that lies here, its pixels read by workers where an engine is named.</summary>
    private static CheckReport Here(
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

        EngineGatherer? workers = engine is null
            ? null
            : PassingSite.ConnectAsync(engine, place, roots ?? [], cancel).GetAwaiter().GetResult();
        try
        {
            return CheckHere.Run(place, sheet, depth, workers, cancel);
        }
        finally
        {
            workers?.DisposeAsync().AsTask().GetAwaiter().GetResult();
        }
    }
}

using System.CommandLine;
using DuneCrate.Cli;
using DuneCrate.Cli.Verbs;
using DuneCrate.Core.Checks.Reports;
using DuneCrate.Core.Intake;

var folder = new Argument<string>("FOLDER") { Description = "The folder to check" };
Option<FactsDepth> depth = Shared.Depth(FactsDepth.Header);
var json = new Option<string?>("--json") { Description = "Write the report to a file; - for standard output" };
Option<string[]> roots = Shared.Roots();
var check = new Command("check", "Sequences and findings of a folder, without a plan.") { folder, depth, json, roots };
check.SetAction(
    (parsed, cancel) =>
        Task.FromResult(
            Outcome.Run(() =>
            {
                CheckReport report = CheckHere.Run(
                    Shared.Folder(parsed.GetRequiredValue(folder), parsed.GetValue(roots)),
                    null,
                    parsed.GetValue(depth),
                    null,
                    cancel
                );
                Shared.Write(parsed.GetValue(json), report.Write);
                return CheckHere.Tell(report, parsed.GetValue(json) != "-");
            })
        )
);
return await CommandLine.RunAsync(
    new RootCommand("Dune Crate, the verbs that start at once.") { FactsVerb.Create(), check },
    args,
    _ => false
);

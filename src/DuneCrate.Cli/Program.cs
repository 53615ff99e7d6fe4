using System.CommandLine;
using DuneCrate.Cli;
using DuneCrate.Cli.Verbs;

var root = new RootCommand("Dune Crate: plan, check and hand over the passes of a render.")
{
    FactsVerb.Make(), CheckVerb.Make(), CrateVerb.Make(), VerifyVerb.Make(), StandInVerb.Make(),
    // These three are started by ./dune itself; they stand here so that --help lists them.
    new Command("demo", "Make the demo show if it is not there and start the web application on it."),
    new Command("serve", "Start the web application on real folders."),
    new Command("test", "Run every test, or those whose name matches; installs what the tests need."),
};

ParseResult parsed = root.Parse(args);
if (parsed.Errors.Count > 0)
{
    return Outcome.Fail($"{parsed.Errors[0].Message} See ./dune {parsed.CommandResult.Command.Name.Replace("DuneCrate.Cli", "", StringComparison.Ordinal)} --help.".Replace("  ", " ", StringComparison.Ordinal));
}

using var stop = new CancellationTokenSource();
Console.CancelKeyPress += (_, e) =>
{
    e.Cancel = true;
    stop.Cancel();
};
return await parsed.InvokeAsync(new InvocationConfiguration { EnableDefaultExceptionHandler = false }, stop.Token);

using System.CommandLine;
using System.Runtime.InteropServices;
using DuneCrate.Cli;
using DuneCrate.Cli.Verbs;

var root = new RootCommand("Dune Crate: plan, check and hand over the passes of a render.")
{
    FactsVerb.Create(),
    CheckVerb.Create(),
    PlanVerb.Create(),
    CrateVerb.Create(),
    VerifyVerb.Create(),
    JoinVerb.Create(),
    PictureVerb.Create(),
    CompareVerb.Create(),
    StackVerb.Create(),
    BackupVerb.Create(),
    RestoreVerb.Create(),
    DoctorVerb.Create(),
    StandInVerb.Create(),
    WorkerVerb.Create(),
    // These three are started by ./dune itself; they stand here so that --help lists them.
    new Command("demo", "Make the demo show if it is not there and start the web application on it."),
    new Command("serve", "Start the web application on real folders."),
    new Command("test", "Run every test, or those whose name matches; installs what the tests need."),
};

ParseResult parsed = root.Parse(args);
if (parsed.Errors.Count > 0)
{
    bool isNoVerb = parsed.CommandResult.Command == root && parsed.UnmatchedTokens.Count > 0;
    string name = parsed.CommandResult.Command == root ? "" : parsed.CommandResult.Command.Name + " ";
    return Outcome.Fail(
        isNoVerb
            ? $"'{parsed.UnmatchedTokens[0]}' is not a verb. See ./dune --help."
            : $"{parsed.Errors[0].Message} See ./dune {name}--help."
    );
}

using var stop = new CancellationTokenSource();
void Stop(PosixSignalContext signal)
{
    signal.Cancel = true;
    stop.Cancel();
}

using var interrupted = PosixSignalRegistration.Create(PosixSignal.SIGINT, Stop);
using var terminated = PosixSignalRegistration.Create(PosixSignal.SIGTERM, Stop);
var how = new InvocationConfiguration { EnableDefaultExceptionHandler = false };
if (parsed.CommandResult.Command.Name == WorkerVerb.Name)
{
    // A worker ends what it has begun, however long that takes.
    how.ProcessTerminationTimeout = null;
}

return await parsed.InvokeAsync(how, stop.Token);

using System.CommandLine;
using DuneCrate.Cli.Verbs;
using DuneCrate.Commands;
using DuneCrate.Engine;
using DuneCrate.Store;

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

Outcome.Foreseen = e =>
    e switch
    {
        EngineException engine => engine.Message,
        StoreException store => store.Message,
        _ => null,
    };

// A worker ends what it has begun, however long that takes.
return await CommandLine.RunAsync(root, args, verb => verb == WorkerVerb.Name);

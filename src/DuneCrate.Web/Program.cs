using System.CommandLine;
using System.Net.Sockets;
using DuneCrate.Engine;
using DuneCrate.Foundation.Documents;
using DuneCrate.Shots;
using DuneCrate.Web;
using Microsoft.Extensions.Options;

var port = new Option<int>("--port") { Description = "Port; 0 takes a free one", DefaultValueFactory = _ => 0 };
var data = new Option<string?>("--data") { Description = "Folder for the database; made when it is not there" };
var bind = new Option<string>("--bind") { Description = "Address or name to listen on", DefaultValueFactory = _ => "127.0.0.1" };
var roots = new Option<string[]>("--root")
{
    Description = "NAME=DIR: a folder that shots may be taken in from; as often as wanted. A root called crates is where crates go",
    DefaultValueFactory = _ => [],
};
var fresh = new Option<bool>("--fresh") { Description = "Delete the demo's data and render it again" };
var alone = new Option<bool>("--without-accounts") { Description = "For one person on one machine: nobody signs in; only on 127.0.0.1" };
var demo = new Command("demo", "Make the demo show if it is not there and start the web application on it.") { port, data, fresh, alone };
var engine = new EngineArguments();
var serve = new Command("serve", "Start the web application on real folders.") { port, data, bind, roots, alone };
foreach (Option option in engine.All)
{
    demo.Options.Add(option);
    serve.Options.Add(option);
}

demo.SetAction(
    (parsed, cancel) =>
        Run(
            () =>
                ServeOptions.ForDemo(
                    parsed.GetValue(data) ?? Path.Combine(Environment.CurrentDirectory, "demo"),
                    parsed.GetValue(port),
                    parsed.GetValue(fresh)
                ) with
                {
                    Engine = engine.Read(parsed),
                },
            parsed.GetValue(alone),
            cancel
        )
);
serve.SetAction(
    (parsed, cancel) =>
        Run(
            () =>
                ServeOptions.ForServe(
                    parsed.GetValue(data) ?? Path.Combine(Environment.CurrentDirectory, "data"),
                    parsed.GetValue(port),
                    parsed.GetValue(bind)!,
                    parsed.GetValue(roots)!
                ) with
                {
                    Engine = engine.Read(parsed),
                },
            parsed.GetValue(alone),
            cancel
        )
);

// A request that asks the database holds its thread: with few, the others would wait until the pool makes more.
ThreadPool.SetMinThreads(64, 64);
ParseResult result = new RootCommand("Dune Crate's web application.") { demo, serve }.Parse(args);
if (result.Errors.Count > 0)
{
    return Fail($"that command line cannot be read. See ./dune {(args is ["demo" or "serve", ..] ? args[0] : "serve")} --help.");
}

return await result.InvokeAsync(new InvocationConfiguration { EnableDefaultExceptionHandler = false });

static async Task<int> Run(Func<ServeOptions> options, bool isAlone, CancellationToken cancel)
{
    ServeOptions chosen;
    try
    {
        chosen = isAlone ? options().WithoutAccounts() : options();
        await using WebApplication app = DuneCrateApp.Build(chosen with { HasOwnProcess = true });
        await app.StartAsync(cancel);
        Console.WriteLine($"Dune Crate is at {app.Urls.First()}");
        await Startup.SayAsync(app, chosen);
        await app.WaitForShutdownAsync(cancel);
        return 0;
    }
    catch (OperationCanceledException)
    {
        return 0;
    }
    catch (Exception e) when (e is SocketException || e.GetBaseException() is SocketException)
    {
        return Fail(
            $"nothing can listen there: {((SocketException)e.GetBaseException()).SocketErrorCode switch
        {
            SocketError.AddressAlreadyInUse => "the port is in use; choose another with --port, or 0 for a free one.",
            SocketError.AccessDenied => "the port may only be used by the system; choose one above 1023 with --port.",
            SocketError.AddressNotAvailable => "the address is none of this machine's; choose another with --bind.",
            var other => $"{other}; choose another --port or --bind.",
        }}"
        );
    }
    catch (OptionsValidationException e)
    {
        return Fail($"a setting cannot be: {string.Join(" ", e.Failures)} Mend it in {DuneCrateApp.ConfigurationFile} or the environment.");
    }
    catch (Exception e) when (e is IOException or UnauthorizedAccessException or ArgumentException or FormatException)
    {
        return Fail(e.Message);
    }
    catch (Exception e)
    {
        return Fail(
            $"the application ended, and nobody foresaw why ({e.GetType().Name}). Please report it with the command " + $"that you gave."
        );
    }
}

static int Fail(string message)
{
    Console.Error.WriteLine($"dune: {VisibleText.Clean(message.ReplaceLineEndings(" "))}");
    return 2;
}

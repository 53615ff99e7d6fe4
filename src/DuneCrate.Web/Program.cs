using System.CommandLine;
using System.Net.Sockets;
using DuneCrate.Web;

var port = new Option<int>("--port") { Description = "Port; 0 takes a free one", DefaultValueFactory = _ => 0 };
var data = new Option<string?>("--data") { Description = "Folder for the database; made when it is not there" };
var bind = new Option<string>("--bind") { Description = "Address to listen on", DefaultValueFactory = _ => "127.0.0.1" };
var roots = new Option<string[]>("--root") { Description = "NAME=DIR: a folder that shots may be taken in from; as often as wanted. A root called crates is where crates go", DefaultValueFactory = _ => [] };
var fresh = new Option<bool>("--fresh") { Description = "Throw the demo's data away and make it anew" };
var demo = new Command("demo", "Make the demo show if it is not there and start the web application on it.") { port, data, fresh };
var serve = new Command("serve", "Start the web application on real folders.") { port, data, bind, roots };
demo.SetAction((parsed, cancel) => Run(() => ServeOptions.ForDemo(parsed.GetValue(data) ?? Path.Combine(Environment.CurrentDirectory, "demo"), parsed.GetValue(port), parsed.GetValue(fresh)), cancel));
serve.SetAction((parsed, cancel) => Run(() => ServeOptions.ForServe(parsed.GetValue(data) ?? Path.Combine(Environment.CurrentDirectory, "data"), parsed.GetValue(port), parsed.GetValue(bind)!, parsed.GetValue(roots)!), cancel));

ParseResult result = new RootCommand("Dune Crate's web application.") { demo, serve }.Parse(args);
if (result.Errors.Count > 0)
{
    Console.Error.WriteLine($"dune: {result.Errors[0].Message}");
    return 2;
}

return await result.InvokeAsync();

static async Task<int> Run(Func<ServeOptions> options, CancellationToken cancel)
{
    try
    {
        await using WebApplication app = DuneCrateApp.Build(options());
        await app.StartAsync(cancel);
        Console.WriteLine($"Dune Crate is at {app.Urls.First()}");
        await app.WaitForShutdownAsync(cancel);
        return 0;
    }
    catch (Exception e) when (e is IOException or UnauthorizedAccessException or ArgumentException or SocketException)
    {
        Console.Error.WriteLine($"dune: {e.Message.ReplaceLineEndings(" ")}");
        return 2;
    }
}

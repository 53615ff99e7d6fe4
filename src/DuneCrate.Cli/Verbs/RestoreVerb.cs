using System.CommandLine;
using DuneCrate.Commands;
using DuneCrate.Foundation.Documents;
using DuneCrate.Store.Keeping;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune restore FILE --data DIR</c></summary>
internal static class RestoreVerb
{
    public static Command Create()
    {
        var file = new Argument<string>("FILE") { Description = "A backup" };
        var data = new Option<string>("--data") { Description = "The data folder; empty, or not there yet", Required = true };
        var verb = new Command("restore", "Bring an installation back from a backup.") { file, data };
        verb.SetAction(
            (parsed, cancel) =>
                Task.FromResult(
                    Outcome.Run(() =>
                    {
                        string folder = parsed.GetRequiredValue(data);
                        int files = Backup.Restore(parsed.GetRequiredValue(file), folder, cancel);
                        Terminal.Tell($"the database and {Words.Count(files, "file")} are back. Start: ./dune serve --data {folder}");
                        Terminal.Say(Path.GetFullPath(folder));
                        return Outcome.Done;
                    })
                )
        );
        return verb;
    }
}

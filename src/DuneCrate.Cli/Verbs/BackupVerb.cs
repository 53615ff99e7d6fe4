using System.CommandLine;
using DuneCrate.Commands;
using DuneCrate.Foundation.Documents;
using DuneCrate.Store.Keeping;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune backup --data DIR --to FILE</c></summary>
internal static class BackupVerb
{
    public static Command Create()
    {
        var data = new Option<string>("--data") { Description = "The data folder of serve or demo", Required = true };
        var to = new Option<string>("--to") { Description = "The backup; a new file", Required = true };
        var without = new Option<bool>("--without-crates")
        {
            Description = "Leave crates and written composites out that lie in the data folder",
        };
        var verb = new Command("backup", "Keep an installation in one file, also while it runs.") { data, to, without };
        verb.SetAction(
            (parsed, cancel) =>
                Task.FromResult(
                    Outcome.Run(() =>
                    {
                        BackupContents made = Backup.Make(
                            parsed.GetRequiredValue(data),
                            parsed.GetRequiredValue(to),
                            hasCrates: !parsed.GetValue(without),
                            cancel
                        );
                        foreach (string left in made.LeftOut)
                        {
                            Terminal.Tell($"left out: {left}");
                        }

                        Terminal.Tell(
                            $"the database and {Words.Count(made.Files, "file")} are kept, {ByteSize.Text(made.Bytes)}; the "
                                + $"whole was read back."
                        );
                        Terminal.Say(made.File);
                        return Outcome.Done;
                    })
                )
        );
        return verb;
    }
}

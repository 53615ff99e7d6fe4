using System.CommandLine;
using DuneCrate.Commands;
using DuneCrate.Crates;
using DuneCrate.Crates.Deltas;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune join CRATE DELTA --to DIR</c></summary>
internal static class JoinVerb
{
    public static Command Create()
    {
        var older = new Argument<string>("CRATE") { Description = "The crate that the delta was made onto" };
        var delta = new Argument<string>("DELTA") { Description = "The delta" };
        var to = new Option<string>("--to") { Description = "The folder in which the whole crate is made", Required = true };
        var verb = new Command("join", "Make a whole crate of a sealed one and a delta onto it. Both stay as they are.")
        {
            older,
            delta,
            to,
        };
        verb.SetAction(
            (parsed, cancel) =>
                Task.FromResult(
                    Outcome.Run(() =>
                    {
                        string target = parsed.GetRequiredValue(to);
                        Directory.CreateDirectory(target);
                        SealedCrate crate = CrateJoin.Join(
                            Shared.Folder(parsed.GetRequiredValue(older)),
                            Shared.Folder(parsed.GetRequiredValue(delta)),
                            Shared.Folder(target),
                            new ProgressLine<CrateProgress>(p => $"{p.Doing} {p.Files} of {p.OfFiles} files"),
                            cancel
                        );
                        Terminal.Say(crate.Folder.Display);
                        Terminal.Tell(
                            $"joined {Words.Count(crate.Files, "file")}, {ByteSize.Text(crate.Bytes)}; every file was read back and is as "
                                + "it was sealed."
                        );
                        return Outcome.Done;
                    })
                )
        );
        return verb;
    }
}

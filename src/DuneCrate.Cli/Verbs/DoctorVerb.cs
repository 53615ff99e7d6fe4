using System.CommandLine;
using DuneCrate.Commands;
using DuneCrate.Foundation.Storage;
using DuneCrate.Store.Keeping;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune doctor [--data DIR] [--root NAME=DIR]…</c></summary>
internal static class DoctorVerb
{
    public static Command Create()
    {
        var data = new Option<string>("--data")
        {
            Description = "The data folder of serve or demo",
            DefaultValueFactory = _ => Path.Combine(Environment.CurrentDirectory, "data"),
        };
        var roots = new Option<string[]>("--root")
        {
            Description = "NAME=DIR: a storage root as serve is given it; as often as wanted",
            DefaultValueFactory = _ => [],
        };
        var verb = new Command("doctor", "Examine an installation, also while it runs; say what is wrong and what to do.") { data, roots };
        verb.SetAction(
            (parsed, _) =>
                Task.FromResult(
                    Outcome.Run(() =>
                    {
                        IReadOnlyList<DoctorLine> lines = new Doctor(
                            Path.GetFullPath(parsed.GetRequiredValue(data)),
                            NamedRoots.Read(parsed.GetRequiredValue(roots)),
                            TimeProvider.System
                        ).Examine();
                        foreach (DoctorLine line in lines)
                        {
                            string word = line.State switch
                            {
                                DoctorState.Good => "good ",
                                DoctorState.Note => "note ",
                                _ => "WRONG",
                            };
                            Terminal.Say($"{word}  {line.What}: {line.Words}");
                        }

                        return lines.Any(l => l.State == DoctorState.Wrong) ? Outcome.Blocked : Outcome.Done;
                    })
                )
        );
        return verb;
    }
}

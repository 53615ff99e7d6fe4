using System.CommandLine;
using DuneCrate.Commands;

var folder = new Argument<string>("FOLDER") { Description = "The folder to check" };
var options = new CheckOptions();
var check = new Command("check", "Sequences and findings of a folder.") { folder };
foreach (Option option in options.All)
{
    check.Options.Add(option);
}

check.SetAction(
    (parsed, cancel) =>
        Outcome.RunAsync(() =>
            options.AnswerAsync(
                parsed,
                sheet =>
                    Task.FromResult(
                        CheckHere.Run(
                            Shared.Folder(parsed.GetRequiredValue(folder), parsed.GetValue(options.Roots)),
                            sheet,
                            parsed.GetValue(options.Depth),
                            null,
                            cancel
                        )
                    )
            )
        )
);
return await CommandLine.RunAsync(
    new RootCommand("Dune Crate, the verbs that start at once.") { FactsVerb.Create(), check },
    args,
    _ => false
);

using System.CommandLine;
using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Commands;
using DuneCrate.Foundation.Naming;
using DuneCrate.Planning.Model;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune plan FOLDER</c></summary>
internal static class PlanVerb
{
    public static Command Create()
    {
        var folder = new Argument<string>("FOLDER") { Description = "The folder with the files" };
        var show = new Option<string>("--show") { Description = "Code of the show", DefaultValueFactory = _ => "SHOW" };
        var shot = new Option<string?>("--shot") { Description = "Code of the shot; the folder's name unless given" };
        var verb = new Command("plan", "Make a plan from what lies in a folder; written to standard output.") { folder, show, shot };
        verb.SetAction(
            (parsed, cancel) =>
                Task.FromResult(
                    Outcome.Run(() =>
                    {
                        string path = parsed.GetRequiredValue(folder),
                            own = Path.GetFileName(Path.TrimEndingDirectorySeparator(Path.GetFullPath(path))),
                            code = parsed.GetValue(shot) ?? PlanGuess.Clean(own);
                        if (TextLimits.NameProblem(parsed.GetValue(show)) is { } noShow)
                        {
                            return Outcome.Fail($"--show: {noShow}");
                        }

                        if (TextLimits.NameProblem(code) is { } noShot)
                        {
                            return Outcome.Fail($"--shot: {noShot}");
                        }

                        if (parsed.GetValue(shot) is null && code != own)
                        {
                            Terminal.Tell($"the shot is called {code} after its folder; give --shot CODE for another name.");
                        }

                        IntakeResult intake = FolderCheck.TakeIn(CheckHere.Asked(Shared.Folder(path), null, FactsDepth.Header), cancel);
                        if (PlanGuess.From(intake, new ShowPlan { Code = parsed.GetValue(show)! }, code) is not { } plan)
                        {
                            return Outcome.Fail(
                                $"no picture in {path} can be planned from: none can be read, or their names hold {{ "
                                    + $"}} or characters that no "
                                    + "name should have."
                            );
                        }

                        Terminal.Write(PlanDocument.Write(plan));
                        return Outcome.Done;
                    })
                )
        );
        return verb;
    }
}

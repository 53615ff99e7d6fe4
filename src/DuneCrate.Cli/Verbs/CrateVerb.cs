using System.CommandLine;
using System.Security.Cryptography;
using DuneCrate.Checking;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Cli.Remote;
using DuneCrate.Commands;
using DuneCrate.Crates;
using DuneCrate.Crates.Deltas;
using DuneCrate.Crates.Recipes;
using DuneCrate.Crates.Signing;
using DuneCrate.Crates.Slimming;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune crate --plan FILE --from FOLDER --to DIR</c></summary>
internal static class CrateVerb
{
    public static Command Create()
    {
        var plan = new Option<string?>("--plan") { Description = "The plan" };
        var from = new Option<string?>("--from") { Description = "The folder with the rendered files" };
        var to = new Option<string?>("--to") { Description = "The folder in which the crate is made" };
        var layout = new Option<string>("--layout")
        {
            Description = string.Join("; ", CrateLayouts.All.Select(l => $"{l.Key}: {l.Value}")),
            DefaultValueFactory = _ => CrateLayouts.ByLayer,
        };
        var recipe = new Option<string?>("--recipe") { Description = "A dune-crate.recipe/1 document: what the receiver wants" };
        var onto = new Option<string?>("--onto")
        {
            Description = "The folder of an older crate: only what differs from it goes in; ./dune join makes a whole one",
        };
        var linked = new Option<bool>("--hard-links")
        {
            Description = "Let files that go in as they are be further names of the rendered ones; nothing is copied on the same disk",
        };
        var savings = new Option<bool>("--savings") { Description = "Say what could go without loss, measured, and seal nothing" };
        var waive = new Option<string?>("--waive") { Description = "A dune-crate.waivers/1 document: findings that somebody accepts" };
        var by = new Option<string>("--by") { Description = "Who seals it", DefaultValueFactory = _ => "" };
        var key = new Option<string?>("--sign-with") { Description = "A private key in PEM form (ECDSA on P-256) that signs the crate" };
        Option<string[]> roots = Shared.Roots();
        var remote = new ServerOptions();
        var verb = new Command("crate", "Check every pixel, then seal a crate, or say what blocks.")
        {
            plan,
            from,
            to,
            layout,
            recipe,
            onto,
            linked,
            savings,
            waive,
            by,
            key,
            roots,
        };
        foreach (Option option in remote.All)
        {
            verb.Options.Add(option);
        }

        verb.SetAction(
            (parsed, cancel) =>
                Outcome.RunAsync(async () =>
                {
                    if (remote.Read(parsed) is { } server)
                    {
                        if (parsed.GetValue(recipe) is not null || parsed.GetValue(onto) is not null)
                        {
                            throw new ArgumentException("--recipe and --onto work on this machine's folders, not with --server.");
                        }

                        return await ThereAsync(server, parsed.GetRequiredValue(layout), cancel);
                    }

                    if (
                        parsed.GetValue(plan) is not { } planFile
                        || parsed.GetValue(from) is not { } source
                        || parsed.GetValue(to) is not { } target
                    )
                    {
                        throw new ArgumentException(
                            "A crate is made with --plan FILE --from FOLDER --to DIR, or on a server. See ./dune crate --help."
                        );
                    }

                    Plan sheet = Shared.ReadPlan(planFile);
                    StoragePath folder = Shared.Folder(source, parsed.GetValue(roots));
                    CrateRecipe wanted = parsed.GetValue(recipe) is { } document ? Wanted(document) : CrateRecipe.AsItIs;
                    OntoBase? older = parsed.GetValue(onto) is { } crateBefore
                        ? OntoBase.Read(Shared.Folder(crateBefore), sheet.Shot.Code)
                        : null;
                    IReadOnlyCollection<Waiver> waivers = parsed.GetValue(waive) is { } file
                        ? WaiverDocument.ReadFile(Shared.File(file, "waiver"))
                        : [];
                    CheckResult found = FolderCheck.Run(CheckHere.Asked(folder, sheet, FactsDepth.Pixels), cancel);
                    CheckReport report = found.Report.With(waivers);
                    CrateContents contents = CrateContents.From(found.Context, parsed.GetRequiredValue(layout), wanted) with
                    {
                        IsLinked = parsed.GetValue(linked),
                    };
                    if (parsed.GetValue(savings))
                    {
                        return Savings(contents, cancel);
                    }

                    if (CrateBuilder.WhatBlocks(report) is { } blocked)
                    {
                        throw new CrateRefusedException(blocked);
                    }

                    using ECDsa? own = parsed.GetValue(key) is { } pem
                        ? CrateSignature.Read(Shared.File(pem, "key").ReadText(CrateSignature.MostBytes))
                        : null;
                    Directory.CreateDirectory(target);
                    SealedCrate crate = CrateBuilder.Seal(
                        contents,
                        report,
                        Shared.Folder(target),
                        Guid.NewGuid(),
                        new ProgressLine<CrateProgress>(p => $"{p.Doing} {p.Files} of {p.OfFiles} files"),
                        cancel,
                        new CrateSigner(parsed.GetRequiredValue(by), own),
                        Shared.Limits(),
                        older
                    );
                    Terminal.Say(crate.Folder.Display);
                    Terminal.Tell(Sentence(contents, crate, older));
                    return Outcome.Done;
                })
        );
        return verb;
    }

    private static int Savings(CrateContents contents, CancellationToken cancel)
    {
        DirectoryInfo scratch = Directory.CreateTempSubdirectory("dune-crate-");
        try
        {
            foreach (CrateSaving saving in CrateSlimming.Find(contents, StorageRoot.At(scratch.FullName).Top, Shared.Limits(), cancel))
            {
                Terminal.Say($"{ByteSize.Text(saving.Bytes), 10}  {Words.Choice(saving.Kind)}: {saving.What}");
            }
        }
        finally
        {
            scratch.Delete(recursive: true);
        }

        return Outcome.Done;
    }

    /// <summary>The recipe in a file; fields that are not known are told, as they may be misspelt.</summary>
    private static CrateRecipe Wanted(string file)
    {
        var recipe = CrateRecipe.Read(Shared.File(file, "recipe").ReadText(CrateRecipe.MostBytes));
        if (recipe.Unknown is { } unknown)
        {
            Terminal.Tell($"{file} has fields that are not known here and do nothing: {unknown}.");
        }

        return recipe;
    }

    private static string Sentence(CrateContents contents, SealedCrate crate, OntoBase? older)
    {
        int made = contents.Sequences.SelectMany(s => s.Files).Count(f => f.Conversion is not null);
        string converted = made > 0 ? $"{Words.Count(made, "file")} converted; " : "",
            onto = older is null ? "" : $" It is a delta onto {older.Manifest.Name}; ./dune join makes a whole crate of both.";
        return $"sealed {Words.Count(crate.Files, "file")}, {ByteSize.Text(crate.Bytes)}; {converted}every file was read back and is as it "
            + $"was written.{onto}";
    }

    /// <summary>Has the crate sealed on a server, by its own plan and folder of the shot.</summary>
    private static async Task<int> ThereAsync(Server server, string layout, CancellationToken cancel)
    {
        (string? name, string? problem) = await server.SealAsync(layout, cancel);
        if (name is null)
        {
            throw new CrateRefusedException(problem ?? "It was not sealed.");
        }

        Terminal.Say(name);
        Terminal.Tell($"sealed on {server.Address}; every file was read back and is as it was written.");
        return Outcome.Done;
    }
}

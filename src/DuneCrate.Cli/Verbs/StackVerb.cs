using System.Collections.Immutable;
using System.CommandLine;
using DuneCrate.Checking.Intake;
using DuneCrate.Commands;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Suggestions;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune stack RECIPE --from FOLDER --to OUT.####.exr</c>, <c>dune stack --propose --plan FILE --from FOLDER</c></summary>
internal static class StackVerb
{
    private const long MostBytes = 16 << 20;

    public static Command Create()
    {
        var recipe = new Argument<string?>("RECIPE") { Description = "A dune-crate.stack/1 document", Arity = ArgumentArity.ZeroOrOne };
        var from = new Option<string>("--from") { Description = "The folder that sources are relative to", Required = true };
        var frames = new Option<string?>("--frames") { Description = "The frames; those of the recipe without it" };
        var to = new Option<string?>("--to") { Description = "OUT.####.exr or OUT.####.png" };
        var ora = new Option<string?>("--ora") { Description = "An OpenRaster file of the first frame, every strip a layer" };
        var propose = new Option<bool>("--propose") { Description = "Write the stack that a plan suggests to standard output" };
        var plan = new Option<string?>("--plan") { Description = "The plan to propose from" };
        var roots = Shared.Roots();
        var verb = new Command("stack", "The test composite of a recipe, or the recipe that a plan suggests.")
        {
            recipe,
            from,
            frames,
            to,
            ora,
            propose,
            plan,
            roots,
        };
        verb.SetAction(
            (parsed, cancel) =>
                Task.FromResult(
                    Outcome.Run(() =>
                    {
                        StoragePath folder = Shared.Folder(parsed.GetRequiredValue(from), parsed.GetRequiredValue(roots));
                        return parsed.GetValue(propose)
                            ? Propose(
                                parsed.GetValue(plan) ?? throw new ArgumentException("Say what to propose from: --plan FILE."),
                                folder
                            )
                            : Compose(
                                parsed.GetValue(recipe) ?? throw new ArgumentException("Name the recipe, or --propose one from a plan."),
                                folder,
                                parsed.GetValue(frames),
                                parsed.GetValue(to),
                                parsed.GetValue(ora),
                                cancel
                            );
                    })
                )
        );
        return verb;
    }

    private static int Propose(string plan, StoragePath folder)
    {
        Plan sheet = Shared.ReadPlan(plan);
        ImmutableArray<string> StoredIn(PlannedOutput output)
        {
            if (FactsReader.Header(folder, output, Shared.Limits()) is { } header)
            {
                return [.. header.Channels.Select(c => c.Name)];
            }

            Terminal.Tell($"dune: {output.Key} has no file yet that opens, and is left out.");
            return default;
        }

        StackRecipe recipe = StackProposal.From(sheet, StoredIn);
        if (recipe.Strips.Length == 0)
        {
            throw new FormatException("Nothing of the plan is there to be stacked: no beauty, shadow or occlusion has files.");
        }

        Terminal.Write(recipe.Write());
        return Outcome.Done;
    }

    private static int Compose(string path, StoragePath folder, string? frames, string? to, string? ora, CancellationToken cancel)
    {
        StackRecipe recipe = StackRecipe.Read(Shared.File(path, "recipe").ReadText(MostBytes));
        FrameSet range =
            (frames is null ? recipe.Frames : FrameSet.Parse(frames))
            ?? throw new FormatException("The recipe names no frames; give --frames 1001-1024.");
        if (range.IsEmpty || (to is null && ora is null))
        {
            throw new ArgumentException(range.IsEmpty ? "No frames are named." : "Say where to: --to OUT.####.exr, or --ora FILE.");
        }

        FrameName? name = to is null ? null : Target(to, range);
        var compositor = new StackCompositor(recipe, folder, Shared.Limits());
        var problems = new List<string>();
        if (ora is not null)
        {
            Place(ora)
                .Replace(stream =>
                {
                    (StackedFrame frame, IReadOnlyList<string> unsaid) = OpenRaster.Write(stream, recipe, compositor, range.First, cancel);
                    problems.AddRange(frame.Problems);
                    foreach (string line in unsaid)
                    {
                        Terminal.Tell($"dune: {line}.");
                    }
                });
        }

        if (name is { } target)
        {
            problems.AddRange(StackWriter.Write(recipe, compositor, range, f => Place(target.At(f)), null, cancel));
        }

        foreach (string problem in problems.Distinct().Order(StringComparer.Ordinal))
        {
            Terminal.Tell($"dune: {problem}.");
        }

        return problems.Count == 0 ? Outcome.Done : Outcome.Blocked;
    }

    private static FrameName Target(string to, FrameSet range)
    {
        if (!StackWriter.IsPng(to) && !to.EndsWith(".exr", StringComparison.OrdinalIgnoreCase))
        {
            throw new FormatException($"{to}: a composite is written as .exr or .png.");
        }

        FrameName name = FrameName.Read(Path.GetFullPath(to));
        return name.Padding > 0 || range.IsStill
            ? name
            : throw new FormatException($"{to}: {range.LongCount} frames need a place for the number: OUT.####.exr.");
    }

    /// <summary>A file to be written, its folder made when it is not there.</summary>
    private static StoragePath Place(string path)
    {
        string full = Path.GetFullPath(path);
        return StorageRoot.At(Directory.CreateDirectory(Path.GetDirectoryName(full)!).FullName).Top.At(Path.GetFileName(full));
    }
}

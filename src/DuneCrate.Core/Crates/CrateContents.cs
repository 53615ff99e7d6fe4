using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Pictures.Notes;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Stacking;
using DuneCrate.Core.Storage;

namespace DuneCrate.Core.Crates;

/// <summary>What a crate will hold: worked out from plan and intake alone, before anything is copied.</summary>
/// <param name="Plan">The plan.</param>
/// <param name="Folder">The folder that the files come from.</param>
/// <param name="Layout">Name of the layout.</param>
/// <param name="Sequences">What goes in.</param>
/// <param name="LeftOut">What stays out.</param>
public sealed record CrateContents(
    Plan Plan,
    StoragePath Folder,
    string Layout,
    ImmutableArray<CrateSequence> Sequences,
    ImmutableArray<LeftOut> LeftOut
)
{
    /// <summary>Notes on pictures that go along.</summary>
    public ImmutableArray<PictureNote> Notes { get; init; } = [];

    /// <summary>Test composites that are kept of the shot; without one the plan's goes along.</summary>
    public ImmutableArray<(string Name, StackRecipe Recipe)> Stacks { get; init; } = [];

    /// <summary>Whether a test composite goes along.</summary>
    public bool HasStack => !CrateStack.Of(this).IsEmpty;

    /// <summary>Bytes of all files that go in.</summary>
    public long Bytes => Sequences.Sum(s => s.Bytes);

    /// <summary>Files that go in.</summary>
    public int Files => Sequences.Sum(s => s.Files.Length);

    /// <summary>Lays out a crate. Of two files that claim one frame the one with the planned digits goes in.</summary>
    /// <exception cref="ArgumentException">The layout is not known.</exception>
    public static CrateContents From(Plan plan, IntakeResult intake, string layout = CrateLayouts.ByLayer)
    {
        if (!CrateLayouts.All.ContainsKey(layout))
        {
            throw new ArgumentException($"'{layout}' is not a layout; use {string.Join(" or ", CrateLayouts.All.Keys)}.");
        }

        var context = new CheckContext(plan, intake, intake.Taken);
        var sequences = ImmutableArray.CreateBuilder<CrateSequence>();
        var left = ImmutableArray.CreateBuilder<LeftOut>();
        var taken = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (CheckedOutput checkedOutput in context.Outputs.Where(l => l.Planned is not null && !l.Files.IsEmpty && !l.Passes.IsEmpty))
        {
            PlannedOutput output = checkedOutput.Planned!;
            string group = CrateLayouts.Group(layout, output),
                shortName = Unique(ShortName(output), group, taken);
            FrameName name = new(
                $"{group}/{shortName}/{shortName}{(output.IsStill && output.Name.Padding == 0 ? "" : ".")}",
                Extension(output),
                output.Name.Padding
            );
            var files = ImmutableArray.CreateBuilder<CrateFile>();
            foreach (IGrouping<int, CheckedFile> claims in checkedOutput.Files.GroupBy(f => f.Frame))
            {
                CheckedFile best = claims.OrderBy(f => Math.Abs(f.Digits - output.Name.Padding)).First();
                bool planned = output.Frames.Contains(best.Frame) || output.Name.Padding == 0;
                if (planned)
                {
                    files.Add(new CrateFile(best.Facts.Path, name.At(best.Frame), best.Facts.Bytes, best.Frame, best.Facts.Content));
                }

                left.AddRange(
                    claims
                        .Where(f => !planned || f != best)
                        .Select(f => new LeftOut(
                            f.Facts.Path,
                            f.Facts.Bytes,
                            planned ? "another file claims its frame" : "outside the planned frames"
                        ))
                );
            }

            sequences.Add(
                new CrateSequence(
                    output,
                    shortName,
                    name,
                    files.ToImmutable(),
                    checkedOutput.ByShape.OrderByDescending(s => s.Count()).FirstOrDefault()?.First().Facts
                )
            );
        }

        left.AddRange(
            context.Strays.SelectMany(s =>
                s.Sequence.Files.Select(f => new LeftOut(
                    f.Path,
                    intake.Facts[f.Path].Bytes,
                    s.Kind switch
                    {
                        StrayKind.Unplanned => "in no output of the plan",
                        StrayKind.Version => $"another version of {s.Nearest!.Key}",
                        StrayKind.Format => $"another format than {s.Nearest!.Key}",
                        _ => $"misnamed; meant for {s.Nearest!.Key}",
                    },
                    s.IsMisnamed ? s.Nearest!.Name.At(f.Frame) : null
                ))
            )
        );
        return new CrateContents(plan, intake.Folder, layout, sequences.ToImmutable(), left.ToImmutable());
    }

    private static string Extension(PlannedOutput output)
    {
        string whole = output.Name.Prefix + output.Name.Suffix;
        return whole[whole.LastIndexOf('.')..];
    }

    private static string ShortName(PlannedOutput output)
    {
        string layer = output.Layer.Name;
        return output.HasBeauty ? layer
            : output.Passes.Length == 1 ? $"{layer}_{output.Passes[0].Pass.Replace('.', '_')}"
            : output.Passes.All(p => output.Plan.Catalogue.Find(p.Pass)?.Kind is PassKind.Data or PassKind.Identity) ? $"{layer}_data"
            : $"{layer}_passes";
    }

    private static string Unique(string name, string group, HashSet<string> taken)
    {
        string tried = name;
        for (int n = 2; !taken.Add($"{group}/{tried}"); n++)
        {
            tried = $"{name}_{n.ToString(CultureInfo.InvariantCulture)}";
        }

        return tried;
    }
}

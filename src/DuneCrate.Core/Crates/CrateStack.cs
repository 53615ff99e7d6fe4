using System.Collections.Immutable;
using DuneCrate.Core.Stacking;

namespace DuneCrate.Core.Crates;

/// <summary>A test composite that goes along: its document names the files of the crate.</summary>
/// <param name="File">The document in the crate.</param>
/// <param name="Name">Name for people.</param>
public sealed record CrateStack(string File, string Name)
{
    /// <summary>Strips whose files do not go into the crate, and which its document leaves out.</summary>
    public ImmutableArray<string> LeftOut { get; init; } = [];

    /// <summary>
    /// The test composites of a crate: those that are kept of the shot, else the one that its plan suggests; sources become the crate's.
    /// </summary>
    internal static ImmutableArray<(CrateStack Stack, StackRecipe Recipe)> Of(CrateContents contents)
    {
        var kept = contents.Stacks.IsEmpty ? [("proposed from the plan", Proposed(contents))] : contents.Stacks;
        return
        [
            .. kept.Select((s, i) => InCrate(contents, i == 0 ? "stack.json" : $"stack_{i + 1}.json", s.Item1, s.Item2))
                .Where(s => s.Recipe.Strips.Length > 0),
        ];
    }

    private static StackRecipe Proposed(CrateContents contents)
    {
        var stored = contents.Sequences.DistinctBy(s => s.Output.Key).ToDictionary(s => s.Output.Key, s => s.Facts);
        return StackProposal.From(
            contents.Plan,
            output => stored.GetValueOrDefault(output.Key) is { } facts ? [.. facts.Channels.Select(c => c.Name)] : default
        );
    }

    private static (CrateStack Stack, StackRecipe Recipe) InCrate(CrateContents contents, string file, string name, StackRecipe recipe)
    {
        var names = contents.Sequences.DistinctBy(s => s.Output.Name).ToDictionary(s => s.Output.Name.ToString(), s => s.Name.ToString());
        bool IsIn(StackStrip strip) =>
            strip.Root is null && names.ContainsKey(strip.Source) && (strip.Mask is null || names.ContainsKey(strip.Mask.Source));
        return (
            new CrateStack(file, name) { LeftOut = [.. recipe.Strips.Where(s => !IsIn(s)).Select(s => s.Name)] },
            recipe with
            {
                Strips =
                [
                    .. recipe
                        .Strips.Where(IsIn)
                        .Select(s =>
                            s with
                            {
                                Source = names[s.Source],
                                Mask = s.Mask is null ? null : s.Mask with { Source = names[s.Mask.Source] },
                            }
                        ),
                ],
            }
        );
    }
}

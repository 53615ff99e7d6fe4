using System.Collections.Immutable;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Planning.Suggestions;

namespace DuneCrate.Crates;

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

    /// <summary>The first of them as it reads the rendered files, without strips that do not go in; null when nothing is left.</summary>
    internal static StackRecipe? Main(CrateContents contents)
    {
        StackRecipe recipe = contents.Stacks.IsEmpty ? Proposed(contents) : contents.Stacks[0].Recipe;
        var places = new CrateStackPlaces(contents.Sequences);
        StackStrip[] strips = [.. recipe.Strips.Where(s => places.InCrate(s) is not null)];
        return strips.Length > 0 ? recipe with { Strips = strips } : null;
    }

    private static StackRecipe Proposed(CrateContents contents)
    {
        var stored = contents
            .Sequences.SelectMany(s => s.Passes)
            .DistinctBy(p => p.Output.Key)
            .ToDictionary(p => p.Output.Key, p => p.Facts);
        return StackProposal.From(
            contents.Plan,
            output => stored.GetValueOrDefault(output.Key) is { } facts ? [.. facts.Channels.Select(c => c.Name)] : default
        );
    }

    private static (CrateStack Stack, StackRecipe Recipe) InCrate(CrateContents contents, string file, string name, StackRecipe recipe)
    {
        var places = new CrateStackPlaces(contents.Sequences);
        (StackStrip Strip, StackStrip? There)[] strips = [.. recipe.Strips.Select(s => (s, places.InCrate(s)))];
        return (
            new CrateStack(file, name) { LeftOut = [.. strips.Where(s => s.There is null).Select(s => s.Strip.Name)] },
            recipe with
            {
                Frames = recipe.Frames?.Shifted(contents.Shift),
                Strips = [.. strips.Select(s => s.There).OfType<StackStrip>()],
            }
        );
    }
}

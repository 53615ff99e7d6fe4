using System.Collections.Immutable;
using DuneCrate.Checking.Matching;
using DuneCrate.Crates.Composing;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging.Pictures.Notes;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene.Helpers;

namespace DuneCrate.Crates;

/// <summary>What a crate will hold: worked out from plan and facts alone, before anything is copied.</summary>
/// <param name="Found">Plan and facts, matched.</param>
/// <param name="Layout">Name of the layout.</param>
/// <param name="Sequences">What goes in.</param>
/// <param name="LeftOut">What stays out.</param>
public sealed record CrateContents(
    CheckContext Found,
    string Layout,
    ImmutableArray<CrateSequence> Sequences,
    ImmutableArray<LeftOut> LeftOut
)
{
    /// <summary>The plan.</summary>
    public Plan Plan => Found.Plan!;

    /// <summary>The folder that the files come from.</summary>
    public StoragePath Folder => Found.Intake.Folder;

    /// <summary>Notes on pictures that go along.</summary>
    public ImmutableArray<PictureNote> Notes { get; init; } = [];

    /// <summary>Test composites that are kept of the shot; without one the plan's goes along.</summary>
    public ImmutableArray<(string Name, StackRecipe Recipe)> Stacks { get; init; } = [];

    /// <summary>Cameras, lights, locators and planes that go along, with what came back laid over them.</summary>
    public HelperSet Helpers { get; init; } = HelperSet.Empty;

    /// <summary>Whether a test composite goes along.</summary>
    public bool HasStack => !CrateStack.Of(this).IsEmpty;

    /// <summary>
    /// Whether files that go in as they are may be further names of the rendered ones (hard links): nothing is copied, and whoever writes
    /// into a rendered file in place changes the crate, which reading it back tells.
    /// </summary>
    public bool IsLinked { get; init; }

    /// <summary>What the receiver wants.</summary>
    public CrateRecipe Recipe { get; init; } = CrateRecipe.AsItIs;

    /// <summary>What is added to the number of a frame as it was rendered.</summary>
    public int Shift => Sequences.Select(s => s.Shift).FirstOrDefault(s => s != 0);

    /// <summary>Bytes of all rendered files that go in.</summary>
    public long Bytes { get; } = Sequences.SelectMany(s => s.Files).SelectMany(f => f.Sources).DistinctBy(s => s.Path).Sum(s => s.Bytes);

    /// <summary>Files that go in.</summary>
    public int Files => Sequences.Sum(s => s.Files.Length);

    /// <summary>Lays out a crate. Of two files that claim one frame the one with the planned digits goes in.</summary>
    /// <param name="found">Plan and facts, matched.</param>
    /// <param name="layout">Name of the layout.</param>
    /// <param name="recipe">What the receiver wants; null for files as they are.</param>
    /// <exception cref="ArgumentException">The layout is not known.</exception>
    /// <exception cref="CrateRefusedException">The recipe asks for what cannot be.</exception>
    public static CrateContents From(CheckContext found, string layout = CrateLayouts.ByLayer, CrateRecipe? recipe = null)
    {
        if (!CrateLayouts.All.ContainsKey(layout))
        {
            throw new ArgumentException($"'{layout}' is not a layout; use {string.Join(" or ", CrateLayouts.All.Keys)}.");
        }

        recipe ??= CrateRecipe.AsItIs;
        (ImmutableArray<CrateSequence> sequences, ImmutableArray<LeftOut> left) = new CrateComposer(found, layout, recipe).Compose();
        return new CrateContents(found, layout, sequences, left) { Recipe = recipe };
    }
}

using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Crates;
using DuneCrate.Crates.Describing;
using DuneCrate.Imaging.Pictures.Notes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene.Helpers;
using DuneCrate.Store;

namespace DuneCrate.Shots.Crating;

/// <summary>What people made in a shot and crates carry beside its frames.</summary>
public sealed class CrateMaterial(
    FindingStore findingStore,
    PictureNoteStore pictureNoteStore,
    StackStore stackStore,
    HelperStore helperStore
)
{
    /// <summary>The findings of a shot that are waived.</summary>
    public async Task<Waiver[]> WaiversAsync(int shotId, CancellationToken cancel) =>
        [.. (await findingStore.WaiversAsync(shotId, cancel)).Select(FindingStore.ToWaiver)];

    /// <summary>Contents with the shot's notes on pictures, its test composites and its scene helpers.</summary>
    public async Task<CrateContents> WithAsync(CrateContents contents, int shotId, Plan plan, CancellationToken cancel)
    {
        ImmutableArray<PictureNote> notes = [.. (await pictureNoteStore.PictureNotesAsync(shotId, cancel)).Select(n => n.Note)];
        List<KeptStack> stacks = await stackStore.StacksAsync(shotId, cancel);
        ShotHelpers? helpers = ShotHelpers.Of(await helperStore.HelpersAsync(shotId, cancel), HelperShots.Of(plan));
        return contents with
        {
            Notes = notes,
            Stacks = [.. stacks.Select(s => (s.Name, s.Recipe))],
            Helpers = helpers?.Handed ?? HelperSet.Empty,
        };
    }
}

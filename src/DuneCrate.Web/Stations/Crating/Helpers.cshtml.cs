using System.Text;
using DuneCrate.Crates.Describing;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Planning.Scene;
using DuneCrate.Planning.Scene.Helpers;
using DuneCrate.Shots.Crating;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Crating;

/// <summary>
/// Cameras, lights, locators and planes of a shot: brought, held against it, chosen, handed over, changed elsewhere and brought back.
/// </summary>
public sealed class HelpersModel(ShotViews views, HelperStore helperStore) : ShotPage(views)
{
    /// <inheritdoc/>
    public override string Station => "Crate";

    /// <summary>The shot as they are held against it; null while it has no frames.</summary>
    public HelperShot? Of => HelperShots.Of(View.Plan);

    /// <summary>What is kept; null for nothing.</summary>
    public ShotHelpers? Kept { get; private set; }

    /// <summary>What went wrong, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>What was done, or null.</summary>
    public string? Done { get; private set; }

    /// <summary>Address of this page.</summary>
    public string Address => $"/{View.Row.Show.Code}/{View.Row.Code}/crate/helpers";

    /// <summary>Whether one is handed over.</summary>
    public bool IsChosen(SceneHelper helper) => Kept!.Chosen.Contains(helper.Name);

    /// <summary>Whether the roster of the scene names one.</summary>
    public bool IsInRoster(SceneHelper helper) => HelperSet.IsIn(View.Plan.Scene, helper);

    /// <summary>What the roster names and the file has not.</summary>
    public SceneItem[] Lacking => [.. Kept!.Original.Lacking(View.Plan.Scene)];

    /// <summary>What came back of one, in words; empty for nothing.</summary>
    public string Moved(SceneHelper helper) => Kept!.Offsets.Words(helper.Name);

    /// <summary>Shows the page.</summary>
    public Task OnGetAsync(CancellationToken cancel) => FillAsync(cancel);

    /// <summary>Brings a scene file or table.</summary>
    public async Task<IActionResult> OnPostTakeAsync(IFormFile? file, CancellationToken cancel)
    {
        await FillAsync(cancel);
        if (await ReadAsync(file, cancel) is not { } set)
        {
            return Page();
        }

        if (set.Helpers.IsEmpty)
        {
            Said = $"{file!.FileName} has no camera, light, locator or flat plane.";
            return Page();
        }

        await helperStore.SaveHelpersAsync(
            new SceneHelpersRow
            {
                Id = Kept?.Row.Id ?? 0,
                ShotId = View.Row.Id,
                Source = Path.GetFileName(file!.FileName),
                Table = HelperTable.Write(set.Helpers, Of!.First),
                Told = string.Join('\n', set.Told),
                Chosen = string.Join('\n', set.ChosenBy(View.Plan.Scene, View.Plan.Shot.Camera)),
                By = AuditLog.WhoOf(HttpContext),
            },
            this.Audited(HistoryKinds.Sealed, $"scene helpers of {View.Row.Code}", null, $"{set.Helpers.Length} from {file.FileName}"),
            cancel
        );
        return Redirect(Address);
    }

    /// <summary>Chooses which of them are handed over.</summary>
    public async Task<IActionResult> OnPostChooseAsync(string[] name, CancellationToken cancel)
    {
        await FillAsync(cancel);
        if (Kept is not null)
        {
            Kept.Row.Chosen = string.Join('\n', Kept.Original.Helpers.Select(h => h.Name).Where(name.Contains));
            await helperStore.SaveHelpersAsync(Kept.Row, cancel: cancel);
        }

        return Redirect(Address);
    }

    /// <summary>Brings back what somebody changed; it takes the place of what came back before.</summary>
    public async Task<IActionResult> OnPostBackAsync(IFormFile? file, CancellationToken cancel)
    {
        await FillAsync(cancel);
        if (Kept is null || await ReadAsync(file, cancel) is not { } returned)
        {
            return Page();
        }

        (HelperOffsets offsets, var unknown) = Kept.Offsets.Taking(Kept.Original, returned);
        Kept.Row.Offsets = ShotHelpers.Write(offsets, Of!);
        await helperStore.SaveHelpersAsync(
            Kept.Row,
            this.Audited(HistoryKinds.Sealed, $"scene helpers of {View.Row.Code}", null, $"changes from {file!.FileName}"),
            cancel
        );
        await FillAsync(cancel);
        Done =
            $"{Words.Count(offsets.Offsets.Count, "helper differs", "helpers differ")} from the original now."
            + (unknown.IsEmpty ? "" : $" Not among the originals, and left aside: {Words.List(unknown)}.");
        return Page();
    }

    /// <summary>Takes back what was changed of one.</summary>
    public async Task<IActionResult> OnPostUndoAsync(string name, CancellationToken cancel)
    {
        await FillAsync(cancel);
        if (Kept is not null)
        {
            Kept.Row.Offsets = ShotHelpers.Write(new HelperOffsets(Kept.Offsets.Offsets.Remove(name)), Of!);
            await helperStore.SaveHelpersAsync(Kept.Row, cancel: cancel);
        }

        return Redirect(Address);
    }

    /// <summary>Forgets all of them.</summary>
    public async Task<IActionResult> OnPostClearAsync(CancellationToken cancel)
    {
        await helperStore.RemoveHelpersAsync(
            View.Row.Id,
            this.Audited(HistoryKinds.Sealed, $"scene helpers of {View.Row.Code}", "kept", "forgotten"),
            cancel
        );
        return Redirect(Address);
    }

    /// <summary>What is handed over, as glTF 2.0.</summary>
    public async Task<IActionResult> OnGetSceneAsync(CancellationToken cancel)
    {
        await FillAsync(cancel);
        return Kept is null
            ? NotFound()
            : File(HelperGltf.Write(Kept.Handed.Helpers, Of!), "model/gltf-binary", $"{View.Row.Code}_helpers.glb");
    }

    /// <summary>What is handed over, as a table.</summary>
    public async Task<IActionResult> OnGetTableAsync(CancellationToken cancel)
    {
        await FillAsync(cancel);
        return Kept is null
            ? NotFound()
            : File(Encoding.UTF8.GetBytes(HelperTable.Write(Kept.Handed.Helpers, Of!.First)), "text/csv", $"{View.Row.Code}_helpers.csv");
    }

    private async Task FillAsync(CancellationToken cancel) =>
        Kept = ShotHelpers.Of(await helperStore.HelpersAsync(View.Row.Id, cancel), Of);

    /// <summary>What a file holds; null when it cannot be read, and then what is wrong is said.</summary>
    private async Task<HelperSet?> ReadAsync(IFormFile? file, CancellationToken cancel)
    {
        if (file is null || Of is null || file.Length > HelperTable.MostBytes)
        {
            Said =
                Of is null ? "Give the shot its frames first."
                : file is null ? "Choose a file."
                : $"The file has more than {ByteSize.Text(HelperTable.MostBytes)}; export what the compositor needs.";
            return null;
        }

        try
        {
            await using Stream stream = file.OpenReadStream();
            if (file.FileName.EndsWith(".csv", StringComparison.OrdinalIgnoreCase))
            {
                using var reader = new StreamReader(stream);
                return HelperTable.Read(await reader.ReadToEndAsync(cancel), Of);
            }

            var whole = new MemoryStream();
            await stream.CopyToAsync(whole, cancel);
            whole.Position = 0;
            return await Task.Run(() => HelperGltf.Read(whole, Of), cancel);
        }
        catch (FormatException e)
        {
            Said = e.Message.EndsWith('.') ? e.Message : e.Message + ".";
            return null;
        }
    }
}

using System.Text.Json;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Merging;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;
using DuneCrate.Planning.Sheet;
using DuneCrate.Planning.Suggestions;
using DuneCrate.Shots.Planning;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Stations.Planning.Grids;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>The parts of the Plan station that are grids: pass sheet, scene, roles, files, render settings.</summary>
public sealed class GridPageModel(ShotViews views, StorageRoots roots, PlanEditor plans) : PlanPage(views, roots)
{
    /// <summary>Which grid.</summary>
    public string? Grid => Addressed("grid");

    /// <inheritdoc/>
    public override string Part => PlanView.Grids.Contains(Grid ?? "") ? Grid! : "sheet";

    /// <summary>The grid as the page's script reads it.</summary>
    public string ModelJson { get; private set; } = "";

    /// <summary>The selected layer, or null.</summary>
    public LayerPlan? CurrentLayer => View.Plan.FindLayer(View.Selected.Layer);

    /// <summary>The selected pass, planned or not.</summary>
    public string CurrentPass =>
        Pass is { } wanted && View.Plan.Catalogue.TryFind(wanted, out _) ? wanted : View.Selected.Pass ?? PassKeys.Beauty;

    /// <summary>The partial that stands beside the grid.</summary>
    public string SidePartial => $"_{char.ToUpperInvariant(Part[0])}{Part[1..]}Side";

    /// <summary>Its entry in the catalogue.</summary>
    public PassDefinition? Definition => View.Plan.Catalogue.Find(CurrentPass);

    /// <summary>Its cell.</summary>
    public SheetCell Cell => CurrentLayer is { } layer ? PassSheet.Read(View.Plan, layer, CurrentPass) : default;

    /// <summary>What it will contain; null when it is not planned or there is no roster.</summary>
    public PassContents? Contents =>
        CurrentLayer?.FindPass(CurrentPass) is { } pass && !View.Plan.Items.IsEmpty
            ? PassContents.Compute(View.Plan, CurrentLayer, pass)
            : null;

    /// <summary>How the selected layer differs from its base.</summary>
    public IReadOnlyList<PlanChange> Differences => CurrentLayer is { } layer ? PlanMerge.Differences(View.Plan, layer) : [];

    /// <summary>The sum that the planned passes of the selected layer fit.</summary>
    public string Proposal =>
        string.Join(" + ", RebuildSum.Propose(View.Plan.Catalogue, CurrentLayer?.AllPasses.Select(p => p.Pass) ?? []));

    /// <summary>Shows the grid.</summary>
    public async Task OnGetAsync()
    {
        (string? undo, string? redo) = await plans.StepsAsync(View.Row.Id, EditorCookies.Read(HttpContext));
        GridModel grid = Sheet.Grid(Part) with { Undo = undo, Redo = redo };
        ModelJson = JsonSerializer.Serialize(grid, PlanningJson.InPage);
    }

    /// <summary>What stands beside the grid, for the selection.</summary>
    public PartialViewResult OnGetSide() => Partial($"_{char.ToUpperInvariant(Part[0])}{Part[1..]}Side", this);

    /// <summary>What a new name of a layer would change, before it is done.</summary>
    public IActionResult OnGetRename(string layer, string name)
    {
        try
        {
            DuneCrate.Planning.Model.Plan after = new RenameLayer(layer, name.Trim()).Apply(View.Plan);
            return Partial(
                "_Rename",
                PlanComparison
                    .Between(View.Plan, after)
                    .Where(c => !c.Path.EndsWith("/name", StringComparison.Ordinal))
                    .Select(c => (c.Where, c.Before, c.After))
                    .Where(c => c.Before.Length > 0 && c.After.Length > 0)
                    .Concat(RenameLayer.Paths(View.Plan, after).Select(p => ("path", p.Before, p.After)))
                    .ToList()
            );
        }
        catch (PlanEditException e)
        {
            return Content(e.Message);
        }
    }

    /// <summary>The plan as a document.</summary>
    public FileContentResult OnGetExport() => Download(PlanDocument.Write(View.Plan), "application/json", "plan.json");

    /// <summary>The pass sheet as a table.</summary>
    public FileContentResult OnGetCsv() => Download(SheetTable.Write(View.Plan), "text/csv", "pass_sheet.csv");

    /// <summary>The roster as a table.</summary>
    public FileContentResult OnGetRoster() => Download(RosterTable.Write(View.Plan.Items), "text/csv", "roster.csv");

    /// <summary>Puts items from a pasted table, a table file or a glTF file into the roster.</summary>
    public async Task<IActionResult> OnPostItemsAsync(string? table, IFormFile? file, int revision)
    {
        try
        {
            SceneItem[] items;
            if (file is { Length: > 0 } && Path.GetExtension(file.FileName).ToLowerInvariant() is ".gltf" or ".glb")
            {
                if (file!.Length > GltfRoster.MaxBytes)
                {
                    throw new FormatException(
                        $"{file.FileName} is larger than {ByteSize.Text(GltfRoster.MaxBytes)}. Export the scene without pictures."
                    );
                }

                await using Stream stream = file.OpenReadStream();
                using var copy = new MemoryStream();
                await stream.CopyToAsync(copy, HttpContext.RequestAborted);
                copy.Position = 0;
                items = [.. GltfRoster.Read(copy)];
            }
            else if (file is { Length: > 0 and < 4 << 20 })
            {
                using var reader = new StreamReader(file.OpenReadStream());
                items = [.. RosterTable.Read(await reader.ReadToEndAsync())];
            }
            else
            {
                items = [.. RosterTable.Read(table ?? "")];
            }

            return items.Length == 0
                ? await SayAsync("Nothing was brought: the table is empty. Paste lines of name, kind and traits, or choose a file.")
                : await MakeAsync(new PutItems([.. items.Select(Merged)]), revision);
        }
        catch (FormatException e)
        {
            return await SayAsync(e.Message);
        }
    }

    /// <summary>Replaces the plan by a document.</summary>
    public async Task<IActionResult> OnPostImportAsync(IFormFile? file, int revision)
    {
        if (file is not { Length: > 0 and <= PlanDocument.MaxBytes })
        {
            return await SayAsync("Choose a plan file.");
        }

        using var reader = new StreamReader(file.OpenReadStream());
        (DuneCrate.Planning.Model.Plan? plan, var problems) = PlanDocument.Read(await reader.ReadToEndAsync());
        return plan is null || !problems.IsEmpty
            ? await SayAsync($"{file.FileName} was not imported. {string.Join(" ", problems.Take(4))}")
            : await MakeAsync(new ReplacePlan(plan, $"plan imported from {Path.GetFileName(file.FileName)}"), revision);
    }

    /// <summary>What went wrong, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>A brought item keeps the id, colour and mask that the roster has for it and the table does not say.</summary>
    private SceneItem Merged(SceneItem item) =>
        View.Plan.Items.FirstOrDefault(i => i.Name.Equals(item.Name, StringComparison.OrdinalIgnoreCase)) is { } known
            ? item with
            {
                Id = item.Id ?? known.Id,
                Colour = item.Colour ?? known.Colour,
                Mask = item.Mask ?? known.Mask,
                Behind = item.Behind ?? known.Behind,
                Note = item.Note ?? known.Note,
            }
            : item;

    private async Task<IActionResult> MakeAsync(PlanEdit edit, int revision)
    {
        EditOutcome outcome = await plans.EditAsync(View.Row.Id, revision, edit, EditorCookies.Read(HttpContext));
        return outcome.IsDone
            ? Redirect(PartHref(Part))
            : await SayAsync(
                outcome.Problem
                    ?? $"Somebody else changed {string.Join(", ", outcome.Conflicts.Take(4))} meanwhile; nothing was changed. Try "
                        + "once more."
            );
    }

    private async Task<IActionResult> SayAsync(string problem)
    {
        Said = problem;
        await OnGetAsync();
        return Page();
    }

    private FileContentResult Download(string text, string type, string name) =>
        File(System.Text.Encoding.UTF8.GetBytes(text), type, $"{View.Row.Code}_{name}");
}

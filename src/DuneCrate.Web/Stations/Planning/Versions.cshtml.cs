using System.Collections.Immutable;
using DuneCrate.Foundation.Naming;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Merging;
using DuneCrate.Shots.Planning;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>
/// The versions of the plan: what changed when and by whom, two of them compared, an earlier one brought back, a template kept.
/// </summary>
public sealed class VersionsModel(ShotViews views, StorageRoots roots, PlanEditor plans, PlanStore store)
    : PlanFormPage(views, roots, plans)
{
    private readonly PlanEditor _plans = plans;

    /// <inheritdoc/>
    public override string Part => "versions";

    /// <summary>The earlier version of the comparison; the first one when none is asked for.</summary>
    [BindProperty(SupportsGet = true)]
    public int? From { get; set; }

    /// <summary>The later version; the newest when none is asked for.</summary>
    [BindProperty(SupportsGet = true)]
    public int? To { get; set; }

    /// <summary>The versions, newest first.</summary>
    public List<PlanRevisionRow> Rows { get; private set; } = [];

    /// <summary>What changed between the two.</summary>
    public ImmutableArray<PlanChange> Changes { get; private set; } = [];

    /// <inheritdoc/>
    public override async Task OnGetAsync(CancellationToken cancel)
    {
        Rows = await store.RevisionsAsync(View.Row.Id);
        To ??= View.Row.Revision;
        From ??= Rows.Count > 1 ? Math.Max(Rows[^1].Revision, To.Value - 1) : To;
        if (await _plans.AtAsync(View.Row, From.Value) is { } before && await _plans.AtAsync(View.Row, To.Value) is { } after)
        {
            Changes = PlanComparison.Between(before, after);
        }
        else
        {
            Said ??= "One of these versions is not kept any more.";
        }
    }

    /// <summary>Brings an earlier version back, as a new one.</summary>
    public async Task<IActionResult> OnPostBackAsync(int version, int revision, CancellationToken cancel) =>
        await _plans.AtAsync(View.Row, version) is { } plan
            ? await MakeAsync(new ReplacePlan(plan, $"version {version} brought back") { IsOwn = true }, revision, cancel)
            : await SayAsync("That version is not kept any more.", cancel);

    /// <summary>Keeps the plan for new shots of the show.</summary>
    public async Task<IActionResult> OnPostKeepAsync(string? name, CancellationToken cancel)
    {
        if (string.IsNullOrWhiteSpace(name))
        {
            return await SayAsync("Give the template a name.", cancel);
        }

        if (TextLimits.Problem("The name", name) is { } wrong)
        {
            return await SayAsync(wrong, cancel);
        }

        await store.KeepTemplateAsync(View.Row.ShowId, name.Trim(), View.Plan);
        await LoadAsync(cancel);
        await OnGetAsync(cancel);
        Kept = name.Trim();
        return Page();
    }

    /// <summary>The template that was just kept, or null.</summary>
    public string? Kept { get; private set; }
}

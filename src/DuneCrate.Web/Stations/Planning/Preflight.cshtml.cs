using System.Collections.Immutable;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Shots.Planning;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>What only a person can confirm before the render.</summary>
public sealed class PreflightModel(ShotViews views, StorageRoots roots, PlanEditor plans, PlanStore store)
    : PlanFormPage(views, roots, plans)
{
    private List<PreflightTickRow> _ticks = [];

    /// <inheritdoc/>
    public override string Part => "preflight";

    /// <summary>The show's list.</summary>
    public ImmutableArray<string> Items => DuneCrate.Planning.Model.Preflight.From(View.Plan.Show);

    /// <summary>The name in the form.</summary>
    public string By => Editor.Name;

    /// <summary>Who confirmed a line, or null.</summary>
    public PreflightTickRow? Tick(string item) => _ticks.FirstOrDefault(t => t.Item == item);

    /// <inheritdoc/>
    public override async Task OnGetAsync(CancellationToken cancel) => _ticks = await store.TicksAsync(View.Row.Id);

    /// <summary>Confirms a line, or takes the confirmation back.</summary>
    public async Task<IActionResult> OnPostTickAsync(string item, string? by, bool on, CancellationToken cancel)
    {
        if (on && string.IsNullOrWhiteSpace(by))
        {
            return await SayAsync("Say who confirms it.", cancel);
        }

        if (TextLimits.Problem("The name", by) is { } wrong)
        {
            return await SayAsync(wrong, cancel);
        }

        if (Items.Contains(item))
        {
            (string before, string after) = on ? ("open", "confirmed") : ("confirmed", "open");
            AuditEvent audited = this.Audited(HistoryKinds.Planned, $"preflight: {item}", before, after);
            await store.TickAsync(View.Row.Id, item, on ? by!.Trim() : null, audited, cancel);
        }

        if (on)
        {
            Response.Cookies.Append(
                EditorCookies.Name,
                Uri.EscapeDataString(by!.Trim()),
                new CookieOptions
                {
                    SameSite = SameSiteMode.Strict,
                    Secure = Request.IsHttps,
                    MaxAge = TimeSpan.FromDays(400),
                }
            );
        }

        return Redirect(PartHref("preflight"));
    }
}

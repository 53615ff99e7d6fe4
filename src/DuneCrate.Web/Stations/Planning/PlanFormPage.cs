using System.Text.Json;
using DuneCrate.Planning.Edits;
using DuneCrate.Shots.Planning;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>Parts of the Plan station that are pages of forms: every button posts the change it carries.</summary>
public abstract class PlanFormPage(ShotViews views, StorageRoots roots, PlanEditor plans) : PlanPage(views, roots)
{
    /// <summary>What went wrong, or null.</summary>
    public string? Said { get; protected set; }

    /// <summary>Who looks at the page.</summary>
    protected Editor Editor => EditorCookies.Read(HttpContext);

    /// <summary>Shows the page.</summary>
    public virtual Task OnGetAsync(CancellationToken cancel) => Task.CompletedTask;

    /// <summary>Makes the change that a button carries.</summary>
    public async Task<IActionResult> OnPostEditAsync(string edit, int revision, CancellationToken cancel)
    {
        try
        {
            return await MakeAsync(PlanEdit.Read(edit), revision, cancel);
        }
        catch (JsonException)
        {
            return BadRequest();
        }
    }

    /// <summary>Makes a change and shows the page anew, or says why not.</summary>
    protected async Task<IActionResult> MakeAsync(PlanEdit edit, int revision, CancellationToken cancel)
    {
        EditOutcome outcome = await plans.EditAsync(View.Row.Id, revision, edit, Editor);
        return outcome.IsDone
            ? Redirect(PartHref(Part))
            : await SayAsync(
                outcome.Problem
                    ?? $"Somebody else changed {string.Join(", ", outcome.Conflicts.Take(4))} meanwhile; nothing was changed. Try "
                        + "once more.",
                cancel
            );
    }

    /// <summary>Shows the page with what went wrong.</summary>
    protected async Task<IActionResult> SayAsync(string problem, CancellationToken cancel)
    {
        await LoadAsync(cancel);
        Said = problem;
        await OnGetAsync(cancel);
        return Page();
    }
}

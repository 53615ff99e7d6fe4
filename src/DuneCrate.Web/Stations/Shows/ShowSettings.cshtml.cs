using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Rules;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Rules;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace DuneCrate.Web.Stations.Shows;

/// <summary>
/// What holds for all shots of a show: rate, size, naming, catalogue, aliases, rules, render settings, preflight list, templates.
/// </summary>
public sealed class ShowSettingsModel(ShowStore shows, PlanStore plans, ShowFolderStore folders, StorageRoots roots, ShotViews views)
    : AddressedPage
{
    /// <summary>The show.</summary>
    public ShowRow Row { get; private set; } = null!;

    /// <summary>Its settings in fields, as they are or as they were typed.</summary>
    public SettingsForm Fields { get; private set; } = null!;

    /// <summary>Plans that it keeps for new shots.</summary>
    public List<PlanTemplateRow> Templates { get; private set; } = [];

    /// <summary>The folders that belong to it.</summary>
    public List<ShowFolderRow> Folders { get; private set; } = [];

    /// <summary>Names of the storage roots.</summary>
    public IReadOnlyCollection<string> Roots => roots.Names;

    /// <summary>Why a folder was not given to it, or null.</summary>
    public string? Refused { get; private set; }

    /// <summary>Whether they were just saved.</summary>
    public bool IsSaved { get; private set; }

    /// <summary>Every rule, those of the plan first.</summary>
    public static IEnumerable<Rule> Rules => [.. PlanRuleBook.All, .. RuleBook.All];

    /// <inheritdoc/>
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (await LoadAsync())
        {
            await next();
        }
        else
        {
            context.Result = NotFound();
        }
    }

    /// <summary>Shows the page.</summary>
    public void OnGet() { }

    /// <summary>Saves everything, or nothing when a field is wrong.</summary>
    public async Task<IActionResult> OnPostAsync()
    {
        SettingsForm typed = SettingsForm.From(Request.Form);
        (ShowPlan changed, FrameRate rate, int width, int height) = typed.Read(views.ShowOf(Row), Rules);
        if (typed.HasProblems)
        {
            Fields = typed;
            return Page();
        }

        AuditEvent audited = this.Audited(HistoryKinds.Shows, $"settings of {Row.Code}", null, "changed");
        await plans.SaveShowAsync(Row.Id, changed, rate.ToString(), width, height, audited);
        await LoadAsync();
        IsSaved = true;
        return Page();
    }

    /// <summary>Forgets a template.</summary>
    public async Task<IActionResult> OnPostForgetAsync(int id)
    {
        await plans.RemoveTemplateAsync(Row.Id, id);
        return Redirect($"/{Show}/settings");
    }

    /// <summary>Lets a folder belong to the show.</summary>
    public async Task<IActionResult> OnPostGrantAsync(string? root, string? folder)
    {
        (StoragePath? path, Refused) = await Task.Run(() => roots.Resolve(root, folder));
        if (path is null)
        {
            return Page();
        }

        await folders.GrantAsync(
            Row.Id,
            root!,
            path.Relative,
            this.Audited(HistoryKinds.Shows, $"folders of {Row.Code}", null, $"{root}/{path.Relative} belongs to it")
        );
        return Redirect($"/{Show}/settings#folders");
    }

    /// <summary>Takes a folder from the show.</summary>
    public async Task<IActionResult> OnPostTakeBackAsync(int id)
    {
        await folders.TakeBackAsync(
            Row.Id,
            id,
            row => this.Audited(HistoryKinds.Shows, $"folders of {Row.Code}", $"{row.Root}/{row.Folder} belongs to it", "taken back")
        );
        return Redirect($"/{Show}/settings#folders");
    }

    private async Task<bool> LoadAsync()
    {
        ShowRow? row = (await shows.ShowNamesAsync(HttpContext.RequestAborted)).FirstOrDefault(s => s.Code == Show);
        if (row is null)
        {
            return false;
        }

        Row = row;
        Fields = SettingsForm.From(row, views.ShowOf(row), Rules);
        Templates = await plans.TemplatesAsync(row.Id);
        Folders = await folders.ListAsync(row.Id);
        return true;
    }
}

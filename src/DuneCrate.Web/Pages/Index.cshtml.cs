using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Demo;
using DuneCrate.Web.Shots;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Pages;

/// <summary>The yard: every shot of every show as one row.</summary>
public sealed class IndexModel(ShowStore store, ShotDesk desk, DemoWork demo) : PageModel
{
    private readonly Dictionary<int, List<ShotView>> _views = [];

    /// <summary>The shows.</summary>
    public List<ShowRow> Shows { get; private set; } = [];

    /// <summary>What the demo is doing, or null.</summary>
    public string? Doing => demo.Doing;

    /// <summary>Whether something runs, so that the page should ask again.</summary>
    public bool IsBusy => Doing is not null || _views.Values.Any(v => v.Any(s => s.IsChecking));

    /// <summary>The shots of a show.</summary>
    public List<ShotView> Of(ShowRow show) => _views[show.Id];

    /// <summary>Shows the yard.</summary>
    public async Task OnGetAsync()
    {
        Shows = await store.ShowsAsync();
        foreach (ShowRow show in Shows)
        {
            _views[show.Id] = await desk.ViewsAsync(show);
        }
    }
}

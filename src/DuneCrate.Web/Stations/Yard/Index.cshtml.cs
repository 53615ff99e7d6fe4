using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Demo;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.Yard;

/// <summary>The yard: every shot of every show as one row.</summary>
public sealed class IndexModel(ShowStore store, ShotViews views, DemoBuilder demo) : PageModel
{
    private ILookup<int, YardShot> _shots = Array.Empty<YardShot>().ToLookup(s => s.ShowId);

    /// <summary>The shows.</summary>
    public List<ShowRow> Shows { get; private set; } = [];

    /// <summary>Whether the reader looks after the installation.</summary>
    public bool MayKeep => HttpContext.Visitor().May(Permission.Maintain);

    /// <summary>What the demo is doing, or null.</summary>
    public string? Doing => demo.Doing;

    /// <summary>Whether something runs, so that the page should ask again.</summary>
    public bool IsBusy => Doing is not null || _shots.Any(v => v.Any(s => s.IsChecking));

    /// <summary>The shots of a show.</summary>
    public IEnumerable<YardShot> ShotsOf(ShowRow show) => _shots[show.Id];

    /// <summary>Heads of the columns that can be put in order.</summary>
    public static readonly string[] Heads =
    [
        "Shot",
        "Plan",
        "Receive",
        "Check",
        "Look",
        "Stack",
        "Crate",
        "Blockers",
        "Size",
        "Last event",
    ];

    private const int Many = 3;

    /// <summary>Whether there are so many shots that one looks for them.</summary>
    public bool HasManyShots => _shots.Sum(s => s.Count()) > Many;

    /// <summary>Size of a shot against the largest of its show, in percent.</summary>
    public int ShareOf(YardShot shot) =>
        _shots[shot.ShowId].Max(s => s.Bytes) is > 0 and var most ? (int)(100 * (shot.Bytes ?? 0) / most) : 0;

    /// <summary>Blockers of a shot against those of the worst of its show, in percent.</summary>
    public int BlockersOf(YardShot shot) =>
        _shots[shot.ShowId].Max(s => s.Blockers) is > 0 and var most ? 100 * (shot.Blockers ?? 0) / most : 0;

    /// <summary>Shows the yard.</summary>
    public async Task OnGetAsync(CancellationToken cancel)
    {
        Visitor visitor = HttpContext.Visitor();
        Shows = [.. (await store.ShowNamesAsync(cancel)).Where(s => visitor.May(Permission.Look, s.Code))];
        _shots = await views.YardAsync(cancel);
    }
}

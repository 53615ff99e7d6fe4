using DuneCrate.Shots.Views;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace DuneCrate.Web.Stations.Shared;

/// <summary>What the page models of the six stations share: the shot of the address and the selection.</summary>
public abstract class ShotPage(ShotViews views) : AddressedPage
{
    /// <summary>Shot code in the address.</summary>
    public string Shot => Addressed("shot") ?? "";

    /// <summary>Selected layer.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Layer { get; set; }

    /// <summary>Selected pass.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Pass { get; set; }

    /// <summary>Selected frame.</summary>
    [BindProperty(SupportsGet = true)]
    public int? Frame { get; set; }

    /// <summary>The shot.</summary>
    public ShotView View { get; private set; } = null!;

    /// <summary>Name of the station.</summary>
    public abstract string Station { get; }

    /// <summary>Who looks at it.</summary>
    public Visitor Visitor => HttpContext.Visitor();

    /// <summary>Whether they may do what asks for something.</summary>
    public bool May(Permission need) => Visitor.May(need, Show);

    /// <inheritdoc/>
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (await LoadAsync(context.HttpContext.RequestAborted))
        {
            await next();
        }
        else
        {
            context.Result = NotFound();
        }
    }

    /// <summary>Reads the shot again, after a change.</summary>
    protected async Task<bool> LoadAsync(CancellationToken cancel)
    {
        ShotView? view = await views.ViewAsync(
            Show,
            Shot,
            new Selection(Layer, Pass, Frame, FindingQuery.Parse(n => Request.Query[n])),
            cancel
        );
        View = view!;
        return view is not null;
    }

    /// <summary>Back to a station of this shot with the selection.</summary>
    protected IActionResult ToStation(string station) => Redirect(View.Href(station));
}

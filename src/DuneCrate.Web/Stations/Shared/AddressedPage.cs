using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.Shared;

/// <summary>
/// A page whose address names what it is about. That comes from the route and from nowhere else: a field of a form or a query with the same
/// name must not say another show than the one that rights were asked for.
/// </summary>
public abstract class AddressedPage : PageModel
{
    /// <summary>Code of the show in the address; empty where it names none.</summary>
    public string Show => Addressed("show") ?? "";

    /// <summary>What the address says in one of its places, or null.</summary>
    protected string? Addressed(string place) => RouteData.Values[place] as string;
}

using System.Collections.Frozen;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Access;

/// <summary>
/// What every address asks of whoever calls it, in one place. What does not stand here is refused, and a test says so. Source: OWASP
/// Application Security Verification Standard 5.0, V8.2 and V8.3 (rules of access are documented, and enforced on the server).
/// </summary>
internal static class AccessTable
{
    /// <summary>A page's needs: of all that is asked of it with GET, and of what is posted, by handler ("" for the plain one).</summary>
    private static readonly (string Page, Need Get, (string Handlers, Need Need)[] Posts)[] Pages =
    [
        ("/Yard/Index", Need.Account, []),
        ("/Shared/Problem", Need.Nothing, []),
        ("/Shared/Rules", Need.Account, []),
        ("/Upkeep/Upkeep", Need.Keep, [("Save Tidy Backup", Need.Keep), ("Key", Need.KeepConfirmed)]),
        ("/Machines/Machines", Need.Account, [("Again", Need.Keep)]),
        ("/Shows/NewShow", Need.Keep, [("", Need.Keep)]),
        ("/Shows/NewShot", Need.Plan, [("Plan Copy Import", Need.Plan)]),
        ("/Shows/ShowSettings", Need.Wrangle, [(" Forget", Need.Wrangle), ("Grant TakeBack", Need.Keep)]),
        ("/Shows/ShowSummary", Need.Look, []),
        ("/Shows/Archive", Need.Wrangle, [("Archive Delete", Need.Wrangle)]),
        ("/Planning/Grid", Need.Look, [("Items Import", Need.Plan)]),
        ("/Planning/Print", Need.Look, []),
        ("/Planning/Ids", Need.Look, [("Edit", Need.Plan)]),
        ("/Planning/Estimate", Need.Look, [("Choose Take Time Edit", Need.Plan)]),
        ("/Planning/Versions", Need.Look, [("Back Keep Edit", Need.Plan)]),
        ("/Planning/Preflight", Need.Look, [("Tick Edit", Need.Plan)]),
        ("/Receiving/Receive", Need.Look, [("Send Rerun Job Take Check Plan Stop", Need.Wrangle)]),
        ("/Checking/Check", Need.Look, [("Replan Hand HandSeveral TakeBack Waive WaiveSeveral Unwaive Rename Unrename", Need.Wrangle)]),
        ("/Looking/Look", Need.Look, [("Note Answer", Need.Look)]),
        ("/Looking/Sheet", Need.Look, []),
        ("/Stacking/Stack", Need.Look, []),
        ("/Stacking/Bits", Need.Look, []),
        ("/Stacking/Composite", Need.Look, [("New Set Move Remove Add Step Rename Delete Write Stop Discard", Need.Plan)]),
        ("/Crating/Crate", Need.Look, [("Seal Verify Link Unlink Stop Pause Resume Send Forget", Need.Wrangle)]),
        ("/Crating/Handed", Need.Look, [("Accept SendBack", Need.Answer)]),
        ("/Crating/Helpers", Need.Look, [("Take Choose Back Undo Clear", Need.Wrangle)]),
        ("/Crating/Receivers", Need.Look, [(" Remove Preview Move", Need.Wrangle)]),
        ("/People/SignIn", Need.Nothing, [(" Passkey PasskeyOptions", Need.Nothing), ("Out", Need.Account)]),
        ("/People/First", Need.Nothing, [("", Need.Nothing)]),
        ("/People/Welcome", Need.Nothing, [("", Need.Nothing)]),
        ("/People/Guest", Need.Nothing, []),
        ("/People/Account", Need.Account, [("Password Letters Everywhere PasskeyOptions Passkey PasskeyGone", Need.Account)]),
        ("/People/Confirm", Need.Account, [("", Need.Account)]),
        ("/People/People", Need.Keep, [("Add Role Close Open Link Keeper", Need.KeepConfirmed)]),
        ("/People/Tokens", Need.Wrangle, [("Make Revoke", Need.Wrangle)]),
        ("/People/History", Need.Wrangle, []),
        ("/People/WholeHistory", Need.Keep, []),
    ];

    /// <summary>Needs of addresses that are no pages, by method and pattern.</summary>
    private static readonly (string Route, Need Need)[] Routes =
    [
        ("GET /events", Need.Account),
        ("GET /{show}/{shot}/events", Need.Look),
        ("GET /{show}/{shot}/scene-marks", Need.Look),
        ("GET /{show}/{shot}/seen", Need.Look),
        ("GET /{show}/{shot}/tile.png", Need.Look),
        ("GET /{show}/{shot}/samples", Need.Look),
        ("GET /{show}/{shot}/sources", Need.Look),
        ("GET /{show}/{shot}/apart", Need.Look),
        ("GET /{show}/{shot}/ranked", Need.Look),
        ("GET /{show}/{shot}/picture.png", Need.Look),
        ("GET /{show}/{shot}/evidence.png", Need.Look),
        ("GET /{show}/{shot}/probe", Need.Look),
        ("GET /{show}/{shot}/box", Need.Look),
        ("GET /{show}/{shot}/terms", Need.Look),
        ("GET /{show}/{shot}/mattes", Need.Look),
        ("GET /{show}/{shot}/curve", Need.Look),
        ("GET /{show}/{shot}/rebuild.png", Need.Look),
        ("GET /{show}/{shot}/stack/picture.png", Need.Look),
        ("GET /{show}/{shot}/stack/stratum.png", Need.Look),
        ("GET /{show}/{shot}/stack/frame.ora", Need.Look),
        ("GET /{show}/{shot}/stack/recipe.json", Need.Look),
        ("GET /{show}/{shot}/stack/written.zip", Need.Look),
        ("GET /{show}/{shot}/stack/bits.png", Need.Look),
        ("GET /{show}/{shot}/plan/model", Need.Look),
        ("POST /{show}/{shot}/plan/edit", Need.Plan),
        ("POST /{show}/{shot}/plan/undo", Need.Plan),
        ("POST /{show}/{shot}/plan/redo", Need.Plan),
        ("GET /health", Need.Nothing),
        ("GET /ready", Need.Nothing),
        ("GET /api/{show}/shots", Need.Token),
        ("POST /api/{show}/{shot}/arrivals", Need.Token),
        ("POST /api/{show}/{shot}/checks", Need.Token),
        ("GET /api/{show}/{shot}/checks/{id:int}", Need.Token),
        ("GET /api/{show}/{shot}/report", Need.Token),
        ("GET /api/{show}/{shot}/rerun", Need.Token),
        ("GET /api/{show}/{shot}/crates", Need.Token),
        ("POST /api/{show}/{shot}/crates", Need.Token),
        ("GET /api/{show}/{shot}/crates/{id:int}", Need.Token),
        ("POST /api/{show}/{shot}/crates/{id:int}/verify", Need.Token),
    ];

    private static readonly FrozenDictionary<string, AccessRequirement> OfPages = Pages.ToFrozenDictionary(
        p => p.Page,
        p => new AccessRequirement(
            p.Get,
            p.Posts.SelectMany(x => x.Handlers.Split(' ').Select(h => (Handler: h, x.Need))).ToFrozenDictionary(h => h.Handler, h => h.Need)
        ),
        StringComparer.Ordinal
    );

    private static readonly FrozenDictionary<string, AccessRequirement> OfRoutes = Routes.ToFrozenDictionary(
        r => r.Route,
        r => new AccessRequirement(r.Need, FrozenDictionary<string, Need>.Empty),
        StringComparer.Ordinal
    );

    /// <summary>Gives an endpoint what it asks for, as its own metadata. One that does not stand in the table gets nothing, and the
    /// fallback policy refuses it.</summary>
    public static void Apply(EndpointBuilder endpoint)
    {
        if (Find(endpoint) is { } requirement)
        {
            endpoint.Metadata.Add(new AuthorizationPolicy([requirement], []));
        }
    }

    private static AccessRequirement? Find(EndpointBuilder endpoint)
    {
        if (endpoint.Metadata.OfType<PageActionDescriptor>().LastOrDefault() is { } page)
        {
            return OfPages.GetValueOrDefault(page.ViewEnginePath);
        }

        return
            endpoint is RouteEndpointBuilder route
            && route.Metadata.OfType<IHttpMethodMetadata>().LastOrDefault() is { HttpMethods: [var only] }
            ? OfRoutes.GetValueOrDefault($"{only} {route.RoutePattern.RawText}")
            : null;
    }
}

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
    private static readonly (string Page, Permission Get, (string Handlers, Permission Permission)[] Posts)[] Pages =
    [
        ("/Yard/Index", Permission.Account, []),
        ("/Shared/Problem", Permission.Nothing, []),
        ("/Shared/Rules", Permission.Account, []),
        ("/Upkeep/Upkeep", Permission.Maintain, [("Save Tidy Backup", Permission.Maintain), ("Key", Permission.MaintainConfirmed)]),
        ("/Machines/Machines", Permission.Account, [("Again", Permission.Maintain)]),
        ("/Shows/NewShow", Permission.Maintain, [("", Permission.Maintain)]),
        ("/Shows/NewShot", Permission.Plan, [("Plan Copy Import", Permission.Plan)]),
        ("/Shows/ShowSettings", Permission.Wrangle, [(" Forget", Permission.Wrangle), ("Grant TakeBack", Permission.Maintain)]),
        ("/Shows/ShowSummary", Permission.Look, []),
        ("/Shows/Archive", Permission.Wrangle, [("Archive Delete", Permission.Wrangle)]),
        ("/Planning/Grid", Permission.Look, [("Items Import", Permission.Plan)]),
        ("/Planning/Print", Permission.Look, []),
        ("/Planning/Ids", Permission.Look, [("Edit", Permission.Plan)]),
        ("/Planning/Estimate", Permission.Look, [("Choose Take Time Edit", Permission.Plan)]),
        ("/Planning/Versions", Permission.Look, [("Back Keep Edit", Permission.Plan)]),
        ("/Planning/Preflight", Permission.Look, [("Tick Edit", Permission.Plan)]),
        ("/Receiving/Receive", Permission.Look, [("Send Rerun Job Take Check Plan Stop", Permission.Wrangle)]),
        (
            "/Checking/Check",
            Permission.Look,
            [("Replan Hand HandSeveral TakeBack Waive WaiveSeveral Unwaive Rename Unrename", Permission.Wrangle)]
        ),
        ("/Looking/Look", Permission.Look, [("Note Answer", Permission.Look)]),
        ("/Looking/Sheet", Permission.Look, []),
        ("/Stacking/Stack", Permission.Look, []),
        ("/Stacking/Bits", Permission.Look, []),
        ("/Stacking/Composite", Permission.Look, [("New Set Move Remove Add Step Rename Delete Write Stop Discard", Permission.Plan)]),
        ("/Crating/Crate", Permission.Look, [("Seal Verify Link Unlink Stop Pause Resume Send Forget", Permission.Wrangle)]),
        ("/Crating/Handed", Permission.Look, [("Accept SendBack", Permission.Answer)]),
        ("/Crating/Helpers", Permission.Look, [("Take Choose Back Undo Clear", Permission.Wrangle)]),
        ("/Crating/Receivers", Permission.Look, [(" Remove Preview Move", Permission.Wrangle)]),
        ("/People/SignIn", Permission.Nothing, [(" Passkey PasskeyOptions", Permission.Nothing), ("Out", Permission.Account)]),
        ("/People/First", Permission.Nothing, [("", Permission.Nothing)]),
        ("/People/Welcome", Permission.Nothing, [("", Permission.Nothing)]),
        ("/People/Guest", Permission.Nothing, []),
        ("/People/Account", Permission.Account, [("Password Letters Everywhere PasskeyOptions Passkey PasskeyGone", Permission.Account)]),
        ("/People/Confirm", Permission.Account, [("", Permission.Account)]),
        ("/People/People", Permission.Maintain, [("Add Role Close Open Link Keeper", Permission.MaintainConfirmed)]),
        ("/People/Tokens", Permission.Wrangle, [("Make Revoke", Permission.Wrangle)]),
        ("/People/History", Permission.Wrangle, []),
        ("/People/WholeHistory", Permission.Maintain, []),
    ];

    /// <summary>Needs of addresses that are no pages, by method and pattern.</summary>
    private static readonly (string Route, Permission Permission)[] Routes =
    [
        ("GET /events", Permission.Account),
        ("GET /{show}/{shot}/events", Permission.Look),
        ("GET /{show}/{shot}/scene-marks", Permission.Look),
        ("GET /{show}/{shot}/seen", Permission.Look),
        ("GET /{show}/{shot}/tile.png", Permission.Look),
        ("GET /{show}/{shot}/samples", Permission.Look),
        ("GET /{show}/{shot}/sources", Permission.Look),
        ("GET /{show}/{shot}/apart", Permission.Look),
        ("GET /{show}/{shot}/ranked", Permission.Look),
        ("GET /{show}/{shot}/picture.png", Permission.Look),
        ("GET /{show}/{shot}/evidence.png", Permission.Look),
        ("GET /{show}/{shot}/probe", Permission.Look),
        ("GET /{show}/{shot}/box", Permission.Look),
        ("GET /{show}/{shot}/terms", Permission.Look),
        ("GET /{show}/{shot}/mattes", Permission.Look),
        ("GET /{show}/{shot}/curve", Permission.Look),
        ("GET /{show}/{shot}/rebuild.png", Permission.Look),
        ("GET /{show}/{shot}/stack/picture.png", Permission.Look),
        ("GET /{show}/{shot}/stack/stratum.png", Permission.Look),
        ("GET /{show}/{shot}/stack/frame.ora", Permission.Look),
        ("GET /{show}/{shot}/stack/recipe.json", Permission.Look),
        ("GET /{show}/{shot}/stack/written.zip", Permission.Look),
        ("GET /{show}/{shot}/stack/bits.png", Permission.Look),
        ("GET /{show}/{shot}/plan/model", Permission.Look),
        ("POST /{show}/{shot}/plan/edit", Permission.Plan),
        ("POST /{show}/{shot}/plan/undo", Permission.Plan),
        ("POST /{show}/{shot}/plan/redo", Permission.Plan),
        ("GET /health", Permission.Nothing),
        ("GET /ready", Permission.Nothing),
        ("GET /api/{show}/shots", Permission.Token),
        ("POST /api/{show}/{shot}/arrivals", Permission.Token),
        ("POST /api/{show}/{shot}/checks", Permission.Token),
        ("GET /api/{show}/{shot}/checks/{id:int}", Permission.Token),
        ("GET /api/{show}/{shot}/report", Permission.Token),
        ("GET /api/{show}/{shot}/rerun", Permission.Token),
        ("GET /api/{show}/{shot}/crates", Permission.Token),
        ("POST /api/{show}/{shot}/crates", Permission.Token),
        ("GET /api/{show}/{shot}/crates/{id:int}", Permission.Token),
        ("POST /api/{show}/{shot}/crates/{id:int}/verify", Permission.Token),
    ];

    private static readonly FrozenDictionary<string, AccessRequirement> OfPages = Pages.ToFrozenDictionary(
        p => p.Page,
        p => new AccessRequirement(
            p.Get,
            p.Posts.SelectMany(x => x.Handlers.Split(' ').Select(h => (Handler: h, x.Permission)))
                .ToFrozenDictionary(h => h.Handler, h => h.Permission)
        ),
        StringComparer.Ordinal
    );

    private static readonly FrozenDictionary<string, AccessRequirement> OfRoutes = Routes.ToFrozenDictionary(
        r => r.Route,
        r => new AccessRequirement(r.Permission, FrozenDictionary<string, Permission>.Empty),
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

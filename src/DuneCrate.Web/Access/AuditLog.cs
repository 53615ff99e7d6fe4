using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Shots.Planning;
using DuneCrate.Store;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Access;

/// <summary>Writes into the history what a request did.</summary>
public static class AuditLog
{
    /// <summary>Writes down what was done on a page.</summary>
    /// <param name="page">The page; its address names show and shot.</param>
    /// <param name="kind">One of <see cref="HistoryKinds"/>.</param>
    /// <param name="subject">What it was done to.</param>
    /// <param name="before">What was before, or null.</param>
    /// <param name="after">What was after, or null.</param>
    public static Task AuditAsync(this PageModel page, string kind, string subject, string? before = null, string? after = null) =>
        page.HttpContext.AuditAsync(kind, subject, before, after);

    /// <summary>The same outside of pages.</summary>
    public static Task AuditAsync(this HttpContext http, string kind, string subject, string? before = null, string? after = null) =>
        http.RequestServices.GetRequiredService<HistoryStore>().AddAsync(Audited(http, kind, subject, before, after));

    /// <summary>What was done on a page, to be written down together with the change itself.</summary>
    public static AuditEvent Audited(this PageModel page, string kind, string subject, string? before = null, string? after = null) =>
        Audited(page.HttpContext, kind, subject, before, after);

    private static AuditEvent Audited(HttpContext http, string kind, string subject, string? before, string? after) =>
        new(
            WhoOf(http),
            kind,
            Cut(subject),
            http.GetRouteValue("show") as string,
            http.GetRouteValue("shot") as string,
            before is null ? null : Cut(before),
            after is null ? null : Cut(after)
        );

    /// <summary>Name of whoever makes a request, for the history.</summary>
    public static string WhoOf(HttpContext http) =>
        http.Visitor() is { IsAlone: false, Name: { Length: > 0 } name } ? name
        : Signed(http) is { Length: > 0 } signed ? signed
        : Editor.Unnamed;

    /// <summary>The name that was written into a form, or kept by the browser, where there are no accounts.</summary>
    private static string Signed(HttpContext http)
    {
        string given = http.Request.HasFormContentType ? http.Request.Form[SignedNames.Parameter].ToString().Trim() : "";
        return given.Length is > 0 and <= TextLimits.WordsLength ? given : EditorCookies.Read(http).Name;
    }

    private static string Cut(string text) => text.Length <= TextLimits.NoteLength ? text : text[..TextLimits.NoteLength] + "…";
}

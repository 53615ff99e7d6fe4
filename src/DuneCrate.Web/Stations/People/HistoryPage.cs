using System.Globalization;
using System.Text.Json;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Store;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.People;

/// <summary>Who did what: of one show, or of the whole installation.</summary>
public abstract class HistoryPage(HistoryStore history) : AddressedPage
{
    private const int PageSize = 100;

    /// <summary>Code of a shot.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Of { get; set; }

    /// <summary>Name of a person.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Who { get; set; }

    /// <summary>A kind of thing.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Kind { get; set; }

    /// <summary>A day, as 2026-11-27.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Day { get; set; }

    /// <summary>Entries with a lower number only.</summary>
    [BindProperty(SupportsGet = true)]
    public long Below { get; set; }

    /// <summary>The entries, newest first.</summary>
    public List<HistoryEntry> Entries { get; private set; } = [];

    /// <summary>Everybody whom the history names.</summary>
    public List<string> People { get; private set; } = [];

    /// <summary>Whether there are older ones.</summary>
    public bool HasMore => Entries.Count == PageSize;

    /// <summary>Address of the page itself.</summary>
    public string Address => Show.Length == 0 ? "/history" : $"/{Show}/history";

    private HistoryQuery Query =>
        new(
            Given(Show),
            Given(Of),
            Given(Who),
            Given(Kind),
            DateOnly.TryParseExact(Day, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out DateOnly day) ? day : null
        );

    /// <summary>The address with what is asked for, and more.</summary>
    public string With(string more) => $"{Address}?of={Escape(Of)}&who={Escape(Who)}&kind={Escape(Kind)}&day={Escape(Day)}{more}";

    /// <summary>Shows the newest entries, or those below one.</summary>
    public async Task OnGetAsync(CancellationToken cancel)
    {
        Entries = await history.ListAsync(Query, Math.Max(0, Below), PageSize, cancel);
        People = await history.PeopleAsync(cancel);
    }

    /// <summary>All entries that are asked for as JSON lines, oldest first, with their hashes.</summary>
    public async Task<IActionResult> OnGetLinesAsync(CancellationToken cancel)
    {
        Response.ContentType = "application/x-ndjson";
        Response.Headers.ContentDisposition = $"attachment; filename=\"history{(Show.Length == 0 ? "" : "-" + Show)}.jsonl\"";
        await foreach (HistoryEntry entry in history.AllAsync(Query).WithCancellation(cancel))
        {
            await Response.WriteAsync(JsonSerializer.Serialize(entry, AnyJson.Compact) + "\n", cancel);
        }

        return new EmptyResult();
    }

    private static string? Given(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();

    private static string Escape(string? text) => Uri.EscapeDataString(text ?? "");
}

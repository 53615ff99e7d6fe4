using System.Globalization;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.Upkeep;

/// <summary>What the database holds, and how long what can be made anew is kept.</summary>
public sealed class UpkeepModel(ShowStore store, UpkeepService work) : PageModel
{
    private readonly Dictionary<string, string> _problems = [];

    /// <summary>What is settled now.</summary>
    public UpkeepRow Kept { get; private set; } = new();

    /// <summary>Checks, files and bytes of the database.</summary>
    public (int Checks, int Files, long Bytes) Holdings { get; private set; }

    /// <summary>What was done, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>"1 check", "2,000 files"</summary>
    public string Count(long number, string what) =>
        string.Create(CultureInfo.InvariantCulture, $"{number:N0} {what}{(number == 1 ? "" : "s")}");

    /// <summary>What is wrong with a field, or an empty text.</summary>
    public string Problem(string field) => _problems.GetValueOrDefault(field, "");

    /// <summary>What stands in a field: what was typed when something was refused.</summary>
    public string Given(string field, int now) =>
        _problems.Count > 0 && Request.HasFormContentType ? Request.Form[field].ToString() : now.ToString(CultureInfo.InvariantCulture);

    /// <summary>Shows the page.</summary>
    public async Task OnGetAsync(CancellationToken cancel) =>
        (Kept, Holdings) = (await store.UpkeepAsync(cancel), await store.HoldingsAsync(cancel));

    /// <summary>Settles how long things are kept.</summary>
    public async Task<IActionResult> OnPostSaveAsync(string? checks, string? days, CancellationToken cancel)
    {
        int kept = Number("checks", checks, 1, 10_000),
            facts = Number("days", days, 1, 36_500);
        if (_problems.Count == 0)
        {
            await store.SaveUpkeepAsync(new UpkeepRow { ChecksKept = kept, FactsDays = facts }, cancel);
            Said = "Saved. It holds from the next tidying on.";
        }

        await OnGetAsync(cancel);
        return Page();
    }

    /// <summary>Tidies up now.</summary>
    public async Task<IActionResult> OnPostTidyAsync(CancellationToken cancel)
    {
        (int checks, int files) = await work.TidyAsync(cancel);
        Said =
            checks + files == 0
                ? "Nothing was old enough to drop."
                : $"{Count(checks, "check")} and the facts of {Count(files, "file")} were dropped.";
        await OnGetAsync(cancel);
        return Page();
    }

    private int Number(string field, string? text, int least, int most)
    {
        if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out int number) && number >= least && number <= most)
        {
            return number;
        }

        _problems[field] = $"Write a whole number from {least} to {most}.";
        return least;
    }
}

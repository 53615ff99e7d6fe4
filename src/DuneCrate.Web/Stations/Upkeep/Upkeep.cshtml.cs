using System.Globalization;
using System.Security.Cryptography;
using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Shots;
using DuneCrate.Shots.Notifications;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.Upkeep;

/// <summary>What the database holds, and how long what can be made anew is kept.</summary>
public sealed class UpkeepModel(
    UpkeepStore upkeepStore,
    UpkeepService work,
    DataFolder data,
    ServeOptions options,
    InstallationKeys keys,
    OutboxSender letters
) : PageModel
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

    /// <summary>A moment to the minute.</summary>
    public static string Minute(DateTime at) => at.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);

    /// <summary>What is wrong with a field, or an empty text.</summary>
    public string Problem(string field) => _problems.GetValueOrDefault(field, "");

    /// <summary>What stands in a field: what was typed when something was refused.</summary>
    public string Given(string field, int now) =>
        _problems.Count > 0 && Request.HasFormContentType ? Request.Form[field].ToString() : now.ToString(CultureInfo.InvariantCulture);

    /// <summary>What doctor says of the installation, when it was asked.</summary>
    public IReadOnlyList<DoctorLine> Examined { get; private set; } = [];

    /// <summary>Letters that did not go out, and how many wait.</summary>
    public (List<LetterRow> Failed, int Waiting) Letters { get; private set; } = ([], 0);

    /// <summary>When the newest backup was made, UTC, or null.</summary>
    public DateTime? NewestBackup => BackupPolicy.Newest(data.At(DataFolder.Backups));

    /// <summary>The folder of backups.</summary>
    public string Backups => data.At(DataFolder.Backups);

    /// <summary>The public key that crates are signed with.</summary>
    public string PublicKey => keys.PublicPem;

    /// <summary>Shows the page.</summary>
    public async Task OnGetAsync(CancellationToken cancel) =>
        (Kept, Holdings, Letters) = (
            await upkeepStore.UpkeepAsync(cancel),
            await upkeepStore.HoldingsAsync(cancel),
            await letters.TroubleAsync(cancel)
        );

    /// <summary>What is wrong with the installation and what to do.</summary>
    public async Task<IActionResult> OnGetDoctorAsync()
    {
        Examined = await Task.Run(() => new Doctor(data.Path, options.Roots, options.Clock).Examine());
        return Partial("_Doctor", this);
    }

    /// <summary>Makes a backup now.</summary>
    public async Task<IActionResult> OnPostBackupAsync(CancellationToken cancel)
    {
        BackupContents made = await work.BackupAsync(cancel);
        await this.AuditAsync(HistoryKinds.Installation, $"backup {Path.GetFileName(made.File)}", null, ByteSize.Text(made.Bytes));
        Said = $"Kept in {made.File}, {ByteSize.Text(made.Bytes)}; the whole was read back.";
        await OnGetAsync(cancel);
        return Page();
    }

    /// <summary>Makes a new key for crates.</summary>
    public async Task<IActionResult> OnPostKeyAsync(CancellationToken cancel)
    {
        string before;
        using (ECDsa old = keys.Current())
        {
            before = CrateSignature.Fingerprint(old);
        }

        string after = keys.Change();
        await this.AuditAsync(HistoryKinds.Installation, "key of crates", before, after);
        Said = "Crates are signed with a new key from now on; those of the old one stay known. Give receivers the new public key.";
        await OnGetAsync(cancel);
        return Page();
    }

    /// <summary>Settles how long things are kept.</summary>
    public async Task<IActionResult> OnPostSaveAsync(string? checks, string? days, string? superseded, CancellationToken cancel)
    {
        UpkeepRow before = await upkeepStore.UpkeepAsync(cancel);
        superseded ??= before.SupersededDays.ToString(CultureInfo.InvariantCulture);
        int kept = Number("checks", checks, 1, 10_000),
            facts = Number("days", days, 1, 36_500),
            crates = Number("superseded", superseded, 0, 36_500);
        if (_problems.Count == 0)
        {
            await upkeepStore.SaveUpkeepAsync(
                new UpkeepRow
                {
                    ChecksKept = kept,
                    FactsDays = facts,
                    SupersededDays = crates,
                },
                this.Audited(
                    HistoryKinds.Installation,
                    "what is kept",
                    Words(before.ChecksKept, before.FactsDays, before.SupersededDays),
                    Words(kept, facts, crates)
                ),
                cancel
            );
            Said = "Saved. It holds from the next tidying on.";
        }

        await OnGetAsync(cancel);
        return Page();
    }

    /// <summary>Tidies up now.</summary>
    public async Task<IActionResult> OnPostTidyAsync(CancellationToken cancel)
    {
        (int checks, int files, int crates) = await work.TidyAsync(cancel);
        Said =
            checks + files + crates == 0
                ? "Nothing was old enough to drop."
                : $"{Count(checks, "check")}, the facts of {Count(files, "file")} and {Count(crates, "superseded crate")} were dropped.";
        await OnGetAsync(cancel);
        return Page();
    }

    private string Words(int checks, int days, int superseded) =>
        $"{Count(checks, "check")}, {Count(days, "day")}, "
        + (superseded == 0 ? "every crate" : $"superseded crates {Count(superseded, "day")}");

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

using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Crates;
using DuneCrate.Crates.Events;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Time;
using DuneCrate.Shots.Crating;
using DuneCrate.Shots.Notifications;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Crating;

/// <summary>A sealed crate as its receiver sees it: what it holds, how to get it, and the answer to it.</summary>
public sealed class HandedModel(
    ShotViews views,
    CrateStore crateStore,
    ReceiverStore receiverStore,
    CrateDownloads downloads,
    SealedFolders folders,
    OutboxWriter letters,
    TimeProvider clock
) : ShotPage(views)
{
    /// <summary>Pixels across of the small pictures.</summary>
    public const int Small = 260;

    /// <inheritdoc/>
    public override string Station => "Crate";

    /// <summary>Key of the crate in the address.</summary>
    public int Id => int.Parse(Addressed("id") ?? "0", CultureInfo.InvariantCulture);

    /// <summary>The crate.</summary>
    public CrateRow Crate { get; private set; } = null!;

    /// <summary>What it holds; null when it cannot be read any more.</summary>
    public CrateManifest? Manifest { get; private set; }

    /// <summary>The pass that stands for the whole where the crate has no test composite.</summary>
    private CratePass? First =>
        Manifest is { Passes.IsEmpty: false } manifest
            ? manifest.Passes.FirstOrDefault(p => p.Pass == PassKeys.Beauty) ?? manifest.Passes[0]
            : null;

    /// <summary>Address of its test composite as it was sealed, else of a pass of it; null for none.</summary>
    public string? Large =>
        Manifest?.Documents?.Lead is null
            ? First is { } pass
                ? PictureOf(pass, 800)
                : null
            : $"{Address}?handler=Lead";

    /// <summary>Address of the picture of a pass, out of the crate's own files.</summary>
    /// <param name="pass">The pass.</param>
    /// <param name="width">Pixels across.</param>
    public string PictureOf(CratePass pass, int width)
    {
        int frame = (View.Selected.Frame ?? View.Plan.Shot.Frames.First) + Manifest!.FrameShift;
        frame = (pass.Frames.Contains(frame) || pass.Frames.IsEmpty ? frame : pass.Frames.First) - Manifest.FrameShift;
        return $"/{View.Row.Show.Code}/{View.Row.Code}/picture.png?layer={Uri.EscapeDataString(pass.Layer)}"
            + $"&pass={Uri.EscapeDataString(pass.Pass)}&from={FrameSources.KeyOf(Crate)}"
            + string.Create(CultureInfo.InvariantCulture, $"&frame={frame}&width={width}");
    }

    /// <summary>What was said of it, and of earlier ones that it answers.</summary>
    public List<CrateRemarkRow> Remarks { get; private set; } = [];

    /// <summary>What happened to it, and what is wrong with that history.</summary>
    public (ImmutableArray<CrateEvent> Events, string? Problem) History { get; private set; } = ([], null);

    /// <summary>What went wrong, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>What was typed and not taken.</summary>
    public (string? What, string? Frames, string? Words, string? By) Typed { get; private set; }

    /// <summary>Address of this page.</summary>
    public string Address => string.Create(CultureInfo.InvariantCulture, $"/{View.Row.Show.Code}/{View.Row.Code}/crates/{Crate.Id}");

    /// <summary>What is new in it, in one sentence.</summary>
    public string News
    {
        get
        {
            string[] changed =
            [
                .. (Manifest?.Onto?.Changed ?? []).Select(c => $"{c.Layer} {c.Pass} {(c.IsNew ? "(new)" : c.Frames.ToString())}"),
            ];
            int answers = Remarks.Count(r => r.AnsweredBy == Crate.Name);
            string answer = answers > 0 ? $" It answers {Foundation.Documents.Words.Count(answers, "remark")} on earlier crates." : "";
            return Manifest?.Onto is { } onto
                ? $"New since {onto.Name}: {(changed.Length == 0 ? "nothing" : string.Join(", ", changed.Take(6)))}"
                    + $"{(changed.Length > 6 ? $" and {changed.Length - 6} more" : "")}. Nothing else is in it: ./dune join makes a whole "
                    + $"crate of {onto.Name} and this one.{answer}"
                : answer.Trim();
        }
    }

    /// <summary>Shows the crate.</summary>
    public async Task<IActionResult> OnGetAsync(CancellationToken cancel)
    {
        if (await crateStore.CrateAsync(View.Row.Id, Id, cancel) is not { State: JobState.Done } crate)
        {
            return NotFound();
        }

        (Crate, Manifest) = (crate, await folders.ManifestAsync(crate, cancel));
        History = await folders.HistoryAsync(crate, cancel);
        Remarks = [.. (await receiverStore.RemarksAsync(View.Row.Id, cancel)).Where(r => r.CrateId == Id || r.AnsweredBy == crate.Name)];
        return Page();
    }

    /// <summary>The slip.</summary>
    public Task<IActionResult> OnGetSlipAsync(CancellationToken cancel) =>
        FetchAsync("slip", crate => downloads.SlipAsync(HttpContext, crate, cancel), cancel);

    /// <summary>The test composite as it was sealed.</summary>
    public async Task<IActionResult> OnGetLeadAsync(CancellationToken cancel)
    {
        IActionResult page = await OnGetAsync(cancel);
        return Crate is null ? page
            : Manifest?.Documents?.Lead is { } lead ? await downloads.LeadAsync(Crate, lead, cancel)
            : NotFound();
    }

    /// <summary>The whole crate, or the files of one sequence, as a zip.</summary>
    public Task<IActionResult> OnGetZipAsync(string? files, CancellationToken cancel) =>
        FetchAsync(
            files ?? GuestLinks.Whole,
            async crate =>
            {
                (IActionResult answer, Said) = await downloads.ZipAsync(HttpContext, crate, cancel, files);
                if (Said is not null)
                {
                    return await OnGetAsync(cancel);
                }

                if (answer is EmptyResult)
                {
                    await folders.TellAsync(
                        crate,
                        AuditLog.WhoOf(HttpContext),
                        CrateEventKinds.Handed,
                        $"{files ?? GuestLinks.Whole}, as a zip"
                    );
                }

                return answer;
            },
            cancel
        );

    /// <summary>One file; ranges are answered, so that a download that broke off goes on.</summary>
    public Task<IActionResult> OnGetFileAsync(string? path, CancellationToken cancel) =>
        FetchAsync(path ?? "", crate => downloads.FileAsync(HttpContext, crate, path ?? "", cancel), cancel);

    /// <summary>Accepts the crate.</summary>
    public async Task<IActionResult> OnPostAcceptAsync(string? by, CancellationToken cancel)
    {
        IActionResult page = await OnGetAsync(cancel);
        if (Crate is null)
        {
            return page;
        }

        await receiverStore.AcceptAsync(Id, Who(by), this.Audited(HistoryKinds.Answered, $"{Crate.Name}", null, "accepted"), cancel);
        await AnsweredAsync(Who(by), CrateEventKinds.Accepted, "good to work with");
        return Redirect(Address);
    }

    /// <summary>Sends the crate back with what is wrong in it.</summary>
    public async Task<IActionResult> OnPostSendBackAsync(string? what, string? frames, string? words, string? by, CancellationToken cancel)
    {
        IActionResult page = await OnGetAsync(cancel);
        if (Crate is null)
        {
            return page;
        }

        string[] pass = (what ?? "").Split('|');
        string? noFrames = null;
        FrameSet set = FrameSet.Empty;
        if (!string.IsNullOrWhiteSpace(frames) && FrameSet.TryParse(frames, out FrameSet? read, out noFrames))
        {
            set = read;
        }

        bool isKnown = pass is [""] || pass.Length == 2 && Manifest?.Passes.Any(p => p.Layer == pass[0] && p.Pass == pass[1]) == true;
        Said =
            string.IsNullOrWhiteSpace(words) ? "Say what is wrong, so that it can be done again."
            : !isKnown ? "There is no such pass in this crate."
            : noFrames ?? TextLimits.Problem("What is wrong", words, TextLimits.NoteLength) ?? TextLimits.Problem("The name", by);
        if (Said is not null)
        {
            Typed = (what, frames, words, by);
            return Page();
        }

        await receiverStore.SendBackAsync(
            new CrateRemarkRow
            {
                CrateId = Id,
                Layer = pass.Length == 2 ? pass[0] : "",
                Pass = pass.Length == 2 ? pass[1] : "",
                Frames = set.Shifted(-(Manifest?.FrameShift ?? 0)).ToString(),
                Words = words!.Trim(),
                By = Who(by),
                At = clock.UtcNow,
            },
            this.Audited(HistoryKinds.Answered, $"{Crate.Name}", null, $"sent back: {words.Trim()}"),
            cancel
        );
        string where = pass.Length == 2 ? $"{pass[0]} {pass[1]} {set}".TrimEnd() : "the whole crate";
        await AnsweredAsync(Who(by), CrateEventKinds.SentBack, $"{where}: {words.Trim()}");
        return Redirect(Address);
    }

    /// <summary>Writes an answer into the crate's own history, and tells of it.</summary>
    private async Task AnsweredAsync(string by, string deed, string words)
    {
        await folders.TellAsync(Crate, by, deed, words);
        await letters.TellAsync(
            EventDocument.About(View.Row, NotificationKinds.CrateAnswered, clock.UtcNow, $"{Crate.Name} {deed}: {words}") with
            {
                By = by,
            },
            "crate"
        );
    }

    private string Who(string? by) => string.IsNullOrWhiteSpace(by) ? AuditLog.WhoOf(HttpContext) : by.Trim();

    private async Task<IActionResult> FetchAsync(string what, Func<CrateRow, Task<IActionResult>> fetch, CancellationToken cancel)
    {
        IActionResult page = await OnGetAsync(cancel);
        if (Crate is null)
        {
            return page;
        }

        IActionResult answer = await fetch(Crate);
        if (answer is not NotFoundResult && Request.Headers.Range.Count == 0)
        {
            await this.AuditAsync(HistoryKinds.Handed, $"{Crate.Name} ({what})");
        }

        return answer;
    }
}

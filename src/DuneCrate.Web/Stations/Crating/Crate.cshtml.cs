using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Crates;
using DuneCrate.Crates.Describing;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Shots.Crating;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Crating;

/// <summary>The Crate station: what will be in the crate, sealing, reading back, slip and download.</summary>
public sealed partial class CrateModel(
    ShotViews views,
    CrateStore crateStore,
    ReceiverStore receiverStore,
    HelperStore helperStore,
    CrateDownloads downloads,
    SealedFolders folders,
    GuestLinks links,
    CrateQueue work,
    PreflightGate gate,
    SlimmingTrials slimming
) : ShotPage(views)
{
    // Taken before the store is read: work that ends in between is shown as running and asked for again, never missed.
    private readonly ImmutableDictionary<int, JobProgress> _live = work.Live;
    private readonly ShotViews _views = views;
    private string _layout = CrateLayouts.ByLayer;

    /// <inheritdoc/>
    public override string Station => "Crate";

    /// <summary>Name of the layout.</summary>
    [BindProperty(SupportsGet = true)]
    public string Layout
    {
        get => _layout;
        set => _layout = CrateLayouts.All.ContainsKey(value ?? "") ? value! : CrateLayouts.ByLayer;
    }

    /// <summary>Key of the receiver that the crate is for; null for files as they are.</summary>
    [BindProperty(SupportsGet = true)]
    public int? For { get; set; }

    /// <summary>Who gets crates of the show.</summary>
    public List<ReceiverRow> Receivers { get; private set; } = [];

    /// <summary>The one that this crate is for, or null.</summary>
    public ReceiverRow? Receiver { get; private set; }

    /// <summary>Why what they want cannot be, or null.</summary>
    public string? Impossible { get; private set; }

    /// <summary>What it costs; null without contents.</summary>
    public CrateCost? Cost { get; private set; }

    /// <summary>What was said of crates of this shot.</summary>
    public List<CrateRemarkRow> Remarks { get; private set; } = [];

    /// <summary>The newest whole crate for the same receiver, which a delta can be made onto; or null.</summary>
    public CrateRow? Older =>
        View.Crates.FirstOrDefault(c =>
            c is { State: JobState.Done, OntoId: null, Gone: null } && c.Receiver == Receiver?.Name && c.VerifyProblems == ""
        );

    /// <summary>What stands behind an address of this page so that layout, receiver and choices stay.</summary>
    public string Chosen => ChosenWith(Choices);

    /// <summary>The same with other choices.</summary>
    public string ChosenWith(CrateChoices choices) => $"&layout={Layout}{(Receiver is null ? "" : $"&for={Receiver.Id}")}{choices.Query}";

    /// <inheritdoc cref="CrateChoices.Layers"/>
    [BindProperty(SupportsGet = true)]
    public string? Layers { get; set; }

    /// <inheritdoc cref="CrateChoices.Frames"/>
    [BindProperty(SupportsGet = true)]
    public string? Frames { get; set; }

    /// <inheritdoc cref="CrateChoices.Drop"/>
    [BindProperty(SupportsGet = true)]
    public string? Drop { get; set; }

    /// <inheritdoc cref="CrateChoices.Window"/>
    [BindProperty(SupportsGet = true)]
    public string? Window { get; set; }

    /// <inheritdoc cref="CrateChoices.Compression"/>
    [BindProperty(SupportsGet = true)]
    public string? Compression { get; set; }

    /// <inheritdoc cref="CrateChoices.Half"/>
    [BindProperty(SupportsGet = true)]
    public string? Half { get; set; }

    /// <inheritdoc cref="CrateChoices.Named"/>
    [BindProperty(SupportsGet = true)]
    public string? Named { get; set; }

    /// <summary>Whether the names of files begin with the shot by choice.</summary>
    public bool IsNamedByShot => Choices.Named == CrateChoices.ByShot;

    /// <summary>Whether a file's name does not say its shot, so that a crate of another shot can have the same one.</summary>
    public bool LacksShotInNames =>
        Contents?.Sequences.Any(s => !Path.GetFileName(s.Name.ToString()).Contains(View.Row.Code, StringComparison.OrdinalIgnoreCase))
        == true;

    /// <summary>What is chosen for this crate on top of what its receiver wants.</summary>
    public CrateChoices Choices => field ??= new CrateChoices(Layers, Frames, Drop, Window, Compression, Half, Named);

    /// <summary>What will be in it, or null before anything was checked.</summary>
    public CrateContents? Contents { get; private set; }

    /// <summary>What went wrong, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>Version of the next crate: v003.</summary>
    public string NextVersion => NextName[^4..];

    /// <summary>Name of the next crate's folder.</summary>
    public string NextName => CrateBuilder.NameOf(View.Row.Code, NextNumber);

    /// <summary>
    /// One above the highest version that was sealed from here; one that somebody else put beside them makes the crate's own higher still.
    /// </summary>
    private int NextNumber =>
        1
        + View.Crates.Select(c =>
                c.Name is { } name
                && int.TryParse(name.AsSpan(name.LastIndexOf('v') + 1), NumberStyles.None, CultureInfo.InvariantCulture, out int version)
                    ? version
                    : 0
            )
            .DefaultIfEmpty(0)
            .Max();

    /// <summary>Whether what the check found of the files is still being read again, after a start of the application.</summary>
    public bool IsReading { get; private set; }

    /// <summary>Why it cannot be sealed, or null.</summary>
    public string? Blocks => View.Report is { } report ? CrateBuilder.WhatBlocks(report) : null;

    /// <summary>Whether a crate is being sealed or read back.</summary>
    public bool IsBusy => View.Crates.Any(c => c.State is JobState.Queued or JobState.Running || _live.ContainsKey(c.Id));

    /// <summary>Progress of a crate's work, or null.</summary>
    public JobProgress? Live(CrateRow crate) => _live.GetValueOrDefault(crate.Id);

    /// <summary>Shows the station.</summary>
    public async Task OnGetAsync(CancellationToken cancel)
    {
        await FillAsync(cancel);
        Links = await links.ListAsync(View.Row.Id, cancel);
    }

    /// <summary>The list of crates alone; when the work is over the page is asked to load anew.</summary>
    public async Task<IActionResult> OnGetCratesAsync(CancellationToken cancel)
    {
        await ReceiverAsync(cancel);
        Links = await links.ListAsync(View.Row.Id, cancel);
        if (!IsBusy)
        {
            Response.Headers["HX-Trigger"] = "renew";
        }

        return Partial("_Crates", this);
    }

    /// <summary>What the files of one sequence are called now and in the crate, a portion of them.</summary>
    /// <param name="name">The sequence, by the folder and short name that it has in the crate.</param>
    /// <param name="from">Files to leave out at the beginning.</param>
    /// <param name="cancel">Stops.</param>
    public async Task<IActionResult> OnGetFilesAsync(string? name, int from, CancellationToken cancel)
    {
        await FillAsync(cancel);
        if (Contents?.Sequences.FirstOrDefault(s => s.Name.ToString() == name) is not { } sequence)
        {
            return NotFound();
        }

        From = Math.Clamp(from, 0, sequence.Files.Length);
        Sequence = sequence;
        return Partial("_Files", this);
    }

    /// <summary>Files that a portion shows.</summary>
    public const int Portion = 100;

    /// <summary>The sequence whose files are asked for.</summary>
    public CrateSequence? Sequence { get; private set; }

    /// <summary>Files of it before the portion.</summary>
    public int From { get; private set; }

    /// <summary>Seals a crate.</summary>
    public async Task<IActionResult> OnPostSealAsync(string? by, bool isDelta, CancellationToken cancel)
    {
        await FillAsync(cancel);
        string? gone = await LookedUpAsync(cancel);
        Said = string.IsNullOrWhiteSpace(by)
            ? "A crate is sealed by somebody: give your name."
            : TextLimits.Problem("The name", by)
                ?? (
                    View.Report is null || View.Folder is null ? "Take the frames in first."
                    : For is not null && Receiver is null ? "That receiver was taken away meanwhile. Choose another."
                    : gone
                        ?? Impossible
                        ?? Waits
                        ?? Blocks
                        ?? (Contents is null ? "The files are being looked up again. Seal in a moment." : null)
                );
        if (Said is not null)
        {
            return Page();
        }

        await this.AuditAsync(HistoryKinds.Sealed, $"a crate of {View.Row.Code}", null, "asked for");
        await work.SealAsync(View.Row.Id, Layout, by!.Trim(), Receiver, Contents!.Recipe, isDelta ? Older?.Id : null);
        return Redirect($"{View.Href("crate")}{Chosen}");
    }

    /// <summary>Waits until it is known what would go into the crate.</summary>
    /// <returns>Why that cannot be known, or null.</returns>
    private async Task<string?> LookedUpAsync(CancellationToken cancel)
    {
        if (!IsReading || View is not { Reported: { } check, Folder: { } folder })
        {
            return null;
        }

        try
        {
            await _views.IntakeAsync(check, folder, View.Plan, cancel);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            IsReading = false;
            return Failures.Words("The files cannot be looked up", e);
        }

        await FillAsync(cancel);
        return null;
    }

    /// <summary>Reads a crate back.</summary>
    public async Task<IActionResult> OnPostVerifyAsync(int id)
    {
        if (await crateStore.CrateAsync(View.Row.Id, id) is { State: JobState.Done } crate)
        {
            await this.AuditAsync(
                HistoryKinds.Verified,
                $"{crate.Name}",
                crate.VerifyProblems.Length > 0 ? "not whole" : "whole",
                "asked for"
            );
            await work.VerifyAsync(crate);
        }

        return ToStation("crate");
    }

    /// <summary>The slip of a crate.</summary>
    public async Task<IActionResult> OnGetSlipAsync(int id, CancellationToken cancel) =>
        await crateStore.CrateAsync(View.Row.Id, id, cancel) is { } crate
            ? await downloads.SlipAsync(HttpContext, crate, cancel)
            : NotFound();

    /// <summary>The whole crate as a zip.</summary>
    public async Task<IActionResult> OnGetZipAsync(int id, CancellationToken cancel)
    {
        if (await crateStore.CrateAsync(View.Row.Id, id, cancel) is not { State: JobState.Done } crate)
        {
            return NotFound();
        }

        (IActionResult answer, Said) = await downloads.ZipAsync(HttpContext, crate, cancel);
        if (Said is null)
        {
            if (answer is EmptyResult)
            {
                await this.AuditAsync(HistoryKinds.Handed, $"{crate.Name} ({GuestLinks.Whole})");
                await folders.TellAsync(crate, AuditLog.WhoOf(HttpContext), CrateEventKinds.Handed, $"{GuestLinks.Whole}, as a zip");
            }

            return answer;
        }

        await FillAsync(cancel);
        return Page();
    }

    /// <summary>Makes a link to one crate for somebody without an account.</summary>
    public async Task<IActionResult> OnPostLinkAsync(int id, string? whom, int days, string? by, CancellationToken cancel)
    {
        Said =
            string.IsNullOrWhiteSpace(whom) ? "Say for whom the link is."
            : days is < 1 or > GuestLinks.MostDays ? $"A link works for 1 to {GuestLinks.MostDays} days."
            : TextLimits.Problem("The name", whom) ?? TextLimits.Problem("The name", by);
        if (Said is null && await crateStore.CrateAsync(View.Row.Id, id, cancel) is { State: JobState.Done } crate)
        {
            string who = string.IsNullOrWhiteSpace(by) ? AuditLog.WhoOf(HttpContext) : by.Trim(),
                subject = $"link to {crate.Name} for {whom!.Trim()}";
            AuditEvent audited = this.Audited(HistoryKinds.People, subject, null, $"made, for {days} days");
            string word = await links.MakeAsync(crate, whom.Trim(), days, who, audited, cancel);
            Made = (crate.Id, $"{Request.Scheme}://{Request.Host}/guest/{word}");
        }

        await FillAsync(cancel);
        Links = await links.ListAsync(View.Row.Id, cancel);
        return Page();
    }

    /// <summary>Takes a link back.</summary>
    public async Task<IActionResult> OnPostUnlinkAsync(int link, CancellationToken cancel)
    {
        await links.TakeBackAsync(
            View.Row.Id,
            link,
            whom => this.Audited(HistoryKinds.People, $"link for {whom}", "valid", "taken back"),
            cancel
        );
        return ToStation("crate");
    }

    /// <summary>A link that was just made: the crate and the address.</summary>
    public (int Crate, string Address)? Made { get; private set; }

    /// <summary>Links to crates of this shot, newest first.</summary>
    public List<GuestLinkRow> Links { get; private set; } = [];

    private async Task ReceiverAsync(CancellationToken cancel)
    {
        Receivers = await receiverStore.ReceiversAsync(Show, cancel);
        Receiver = Receivers.Find(r => r.Id == For);
        Remarks = await receiverStore.RemarksAsync(View.Row.Id, cancel);
        Helpers = ShotHelpers.Of(await helperStore.HelpersAsync(View.Row.Id, cancel), HelperShots.Of(View.Plan));
        Waits = await gate.ReasonAsync(View.Row, View.Plan.Show);
    }

    /// <summary>Scene helpers that go along; null for none.</summary>
    public ShotHelpers? Helpers { get; private set; }

    /// <summary>Why the show seals nothing yet, or null.</summary>
    public string? Waits { get; private set; }

    private async Task FillAsync(CancellationToken cancel)
    {
        await ReceiverAsync(cancel);
        try
        {
            Contents = View.Report is null
                ? null
                : _views.ContentsOf(View, Layout, Choices.Over(Receiver is null ? CrateRecipe.AsItIs : Receiver.Wants()));
            Cost = Contents is null ? null : CrateCost.Of(Contents);
        }
        catch (CrateRefusedException e)
        {
            Impossible = e.Message;
        }

        IsReading = Contents is null && Impossible is null && View.Report is not null && View.Folder is not null;
    }
}

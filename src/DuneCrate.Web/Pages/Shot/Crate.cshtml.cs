using System.Collections.Immutable;
using System.IO.Compression;
using DuneCrate.Core.Crates;
using DuneCrate.Core.Intake;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Roots;
using DuneCrate.Web.Shots;
using DuneCrate.Web.Work;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Pages.Shot;

/// <summary>The Crate station: what will be in the crate, sealing, reading back, slip and download.</summary>
public sealed class CrateModel(ShotDesk desk, ShowStore store, StorageRoots roots, CrateWork work) : ShotPage(desk)
{
    // Taken before the store is read: work that ends in between is shown as running and asked for again, never missed.
    private readonly ImmutableDictionary<int, WorkProgress> _live = work.Live;
    private readonly ShotDesk _desk = desk;
    private string _layout = CrateLayouts.ByLayer;

    /// <inheritdoc/>
    public override string Station => "Crate";

    /// <summary>Name of the layout.</summary>
    [BindProperty(SupportsGet = true)]
    public string Layout { get => _layout; set => _layout = CrateLayouts.All.ContainsKey(value ?? "") ? value! : CrateLayouts.ByLayer; }

    /// <summary>What will be in it, or null before anything was checked.</summary>
    public CrateContents? Contents { get; private set; }

    /// <summary>What went wrong, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>Version of the next crate: v003.</summary>
    public string NextVersion => NextName[^4..];

    /// <summary>Name of the next crate's folder.</summary>
    public string NextName => CrateBuilder.NameOf(View.Row.Code, CrateBuilder.NextVersion(roots.CratesOf(View.Row.Show.Code, View.Row.Code), View.Row.Code));

    /// <summary>Why it cannot be sealed, or null.</summary>
    public string? Blocks => View.Report is { } report ? CrateBuilder.WhatBlocks(report) : null;

    /// <summary>Whether a crate is being sealed or read back.</summary>
    public bool IsBusy => View.Crates.Any(c => c.State is WorkState.Queued or WorkState.Running || _live.ContainsKey(c.Id));

    /// <summary>Progress of a crate's work, or null.</summary>
    public WorkProgress? Live(CrateRow crate) => _live.GetValueOrDefault(crate.Id);

    /// <summary>Shows the station.</summary>
    public Task OnGetAsync(CancellationToken cancel) => FillAsync(cancel);

    /// <summary>The list of crates alone; when the work is over the page is asked to load anew.</summary>
    public async Task<IActionResult> OnGetCratesAsync(CancellationToken cancel)
    {
        await FillAsync(cancel);
        if (!IsBusy)
        {
            Response.Headers["HX-Trigger"] = "renew";
        }

        return Partial("_Crates", this);
    }

    /// <summary>Seals a crate.</summary>
    public async Task<IActionResult> OnPostSealAsync(string? by, CancellationToken cancel)
    {
        await FillAsync(cancel);
        Said = string.IsNullOrWhiteSpace(by) ? "A crate is sealed by somebody: give your name." : Contents is null ? "Take the frames in first." : Blocks;
        if (Said is not null)
        {
            return Page();
        }

        await work.SealAsync(View.Row.Id, Layout, by!.Trim());
        return ToStation("crate");
    }

    /// <summary>Reads a crate back.</summary>
    public async Task<IActionResult> OnPostVerifyAsync(int id)
    {
        if (await store.CrateAsync(View.Row.Id, id) is { State: WorkState.Done } crate)
        {
            await work.VerifyAsync(crate);
        }

        return ToStation("crate");
    }

    /// <summary>The slip of a crate.</summary>
    public async Task<IActionResult> OnGetSlipAsync(int id) =>
        await store.CrateAsync(View.Row.Id, id) is { Path: { } path } && System.IO.File.Exists(Path.Combine(path, "slip.html"))
            ? PhysicalFile(Path.Combine(path, "slip.html"), "text/html; charset=utf-8")
            : NotFound();

    /// <summary>The whole crate as a zip, stored without compression since pictures are packed already; written as it is read.</summary>
    public async Task<IActionResult> OnGetZipAsync(int id, CancellationToken cancel)
    {
        if (await store.CrateAsync(View.Row.Id, id) is not { Path: { } folder, Name: { } name } || !Directory.Exists(folder))
        {
            return NotFound();
        }

        Response.ContentType = "application/zip";
        Response.Headers.ContentDisposition = $"attachment; filename=\"{name}.zip\"";
        HttpContext.Features.Get<IHttpBodyControlFeature>()!.AllowSynchronousIO = true;
        await using (var zip = new ZipArchive(Response.Body, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (string file in Directory.EnumerateFiles(folder, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal))
            {
                ZipArchiveEntry entry = zip.CreateEntry($"{name}/{Path.GetRelativePath(folder, file).Replace('\\', '/')}", CompressionLevel.NoCompression);
                await using Stream to = await entry.OpenAsync(cancel);
                await using FileStream from = System.IO.File.OpenRead(file);
                await from.CopyToAsync(to, cancel);
            }
        }

        return new EmptyResult();
    }

    private async Task FillAsync(CancellationToken cancel)
    {
        Intake? intake = await _desk.IntakeAsync(View.Row, View.Plan, View.ReportId, cancel);
        Contents = intake is null || View.Report is null ? null : CrateContents.Of(View.Plan, intake, Layout);
    }
}

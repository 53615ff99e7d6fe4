using System.Collections.Immutable;
using System.Globalization;
using System.IO.Compression;
using DuneCrate.Core.Crates;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Storage;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Jobs;
using DuneCrate.Web.Roots;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Crating;

/// <summary>The Crate station: what will be in the crate, sealing, reading back, slip and download.</summary>
public sealed class CrateModel(ShotViews views, ShowStore store, StorageRoots roots, CrateQueue work) : ShotPage(views)
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
    public void OnGet() => Fill();

    /// <summary>The list of crates alone; when the work is over the page is asked to load anew.</summary>
    public IActionResult OnGetCrates()
    {
        if (!IsBusy)
        {
            Response.Headers["HX-Trigger"] = "renew";
        }

        return Partial("_Crates", this);
    }

    /// <summary>What the files of one sequence are called now and in the crate, a portion of them.</summary>
    /// <param name="name">The sequence, by the folder and short name that it has in the crate.</param>
    /// <param name="from">Files to leave out at the beginning.</param>
    public IActionResult OnGetFiles(string? name, int from)
    {
        Fill();
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
    public async Task<IActionResult> OnPostSealAsync(string? by)
    {
        Fill();
        Said = string.IsNullOrWhiteSpace(by)
            ? "A crate is sealed by somebody: give your name."
            : TextLimits.Problem("The name", by) ?? (View.Report is null || View.Folder is null ? "Take the frames in first." : Blocks);
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
        if (await store.CrateAsync(View.Row.Id, id) is { State: JobState.Done } crate)
        {
            await work.VerifyAsync(crate);
        }

        return ToStation("crate");
    }

    /// <summary>The slip of a crate.</summary>
    public async Task<IActionResult> OnGetSlipAsync(int id, CancellationToken cancel)
    {
        if (await CrateAtAsync(id, cancel) is not { } crate)
        {
            return NotFound();
        }

        try
        {
            // Whatever stands in it now, it runs no script and sends nothing anywhere.
            Response.Headers.ContentSecurityPolicy = "default-src 'none'; style-src 'unsafe-inline'; sandbox";
            return Content(
                await Task.Run(() => crate.At(PackingSlip.FileName).ReadText(CrateManifest.MostBytes), cancel),
                "text/html; charset=utf-8"
            );
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return NotFound();
        }
    }

    /// <summary>
    /// The whole crate as a zip, stored without compression since pictures are packed already; written as it is read. No link is followed.
    /// A crate that holds what it should not, or that
    /// cannot be read to its end, gives no whole zip.
    /// </summary>
    public async Task<IActionResult> OnGetZipAsync(int id, CancellationToken cancel)
    {
        if (
            await CrateAtAsync(id, cancel) is not { } crate
            || await Task.Run(() => crate.IsFolder ? crate.Everything().ToArray() : [], cancel) is not { Length: > 0 } files
        )
        {
            return NotFound();
        }

        if (files.FirstOrDefault(f => f.Stamp.Kind != FileKind.Regular) is { Path: { } odd })
        {
            Said =
                $"{crate.Name} is not given out: {odd} in it is a link or no regular file. Verify the crate to see what else has changed.";
            Fill();
            return Page();
        }

        Response.ContentType = "application/zip";
        Response.Headers.ContentDisposition = $"attachment; filename=\"{crate.Name}.zip\"";
        HttpContext.Features.Get<IHttpBodyControlFeature>()!.AllowSynchronousIO = true;
        try
        {
            await using var zip = new ZipArchive(Response.Body, ZipArchiveMode.Create, leaveOpen: true);
            foreach ((string path, _) in files)
            {
                ZipArchiveEntry entry = zip.CreateEntry($"{crate.Name}/{path}", CompressionLevel.NoCompression);
                await using Stream to = await entry.OpenAsync(cancel);
                using StorageFile from = crate.At(path).OpenItself();
                await using FileStream stream = from.ToStream();
                await stream.CopyToAsync(to, cancel);
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException && !cancel.IsCancellationRequested)
        {
            // Half a zip has gone out: the connection is cut, so that nobody takes it for a whole one.
            HttpContext.Abort();
        }

        return new EmptyResult();
    }

    private async Task<StoragePath?> CrateAtAsync(int id, CancellationToken cancel) =>
        await store.CrateAsync(View.Row.Id, id, cancel) is { State: JobState.Done, Path: { } path } ? roots.CrateAt(path) : null;

    private void Fill()
    {
        Contents = View.Report is null ? null : _views.ContentsOf(View, Layout);
        IsReading = Contents is null && View.Report is not null && View.Folder is not null;
    }
}

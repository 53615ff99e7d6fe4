using System.IO.Compression;
using DuneCrate.Crates;
using DuneCrate.Crates.Events;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Shots.Crating;
using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc;
using Microsoft.Net.Http.Headers;

namespace DuneCrate.Web.Stations.Shared;

/// <summary>Gives sealed crates out: the slip, and the whole as a zip.</summary>
public sealed class CrateDownloads(SealedFolders crates)
{
    private const long MostLead = 256L << 20;

    /// <summary>The slip of a crate.</summary>
    public async Task<IActionResult> SlipAsync(HttpContext http, CrateRow row, CancellationToken cancel)
    {
        if (crates.FolderOf(row) is not { } crate)
        {
            return new NotFoundResult();
        }

        try
        {
            // Whatever stands in it now, it runs no script and sends nothing anywhere.
            http.Response.Headers.ContentSecurityPolicy = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; sandbox";
            return new ContentResult
            {
                Content = await Task.Run(() => crate.At(PackingSlip.FileName).ReadText(CrateManifest.MostBytes), cancel),
                ContentType = "text/html; charset=utf-8",
            };
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return new NotFoundResult();
        }
    }

    /// <summary>
    /// The whole crate as a zip, stored without compression since pictures are packed already; written as it is read. No link is followed.
    /// A crate that cannot be read to its end gives no whole zip.
    /// </summary>
    /// <param name="http">The request.</param>
    /// <param name="row">The crate.</param>
    /// <param name="cancel">Stops.</param>
    /// <param name="only">The files of one sequence, with one <c>#</c> per digit; null for the whole crate.</param>
    /// <returns>What was answered; or why the crate is not given out.</returns>
    public async Task<(IActionResult Answer, string? Problem)> ZipAsync(
        HttpContext http,
        CrateRow row,
        CancellationToken cancel,
        string? only = null
    )
    {
        FrameName? name = only is null ? null : FrameName.Read(only);
        if (
            crates.FolderOf(row) is not { } crate
            || await Task.Run(() => crate.IsFolder ? crate.Everything().Where(f => IsIn(name, f.Path)).ToArray() : [], cancel)
                is not { Length: > 0 } files
        )
        {
            return (new NotFoundResult(), null);
        }

        if (files.FirstOrDefault(f => f.Stamp.Kind != FileKind.Regular) is { Path: { } odd })
        {
            return (
                new NotFoundResult(),
                $"{crate.Name} is not given out: {odd} in it is a link or no regular file. Verify the crate to see what else has changed."
            );
        }

        http.Response.ContentType = "application/zip";
        http.Response.Headers.ContentDisposition =
            $"attachment; filename=\"{crate.Name}{(only is null ? "" : $"_{files[0].Path.Split('/')[^1].Split('.')[0]}")}.zip\"";
        http.Features.Get<IHttpBodyControlFeature>()!.AllowSynchronousIO = true;
        try
        {
            await using var zip = new ZipArchive(http.Response.Body, ZipArchiveMode.Create, leaveOpen: true);
            foreach ((string path, _) in files)
            {
                ZipArchiveEntry entry = zip.CreateEntry($"{crate.Name}/{path}", CompressionLevel.NoCompression);
                await using Stream to = await entry.OpenAsync(cancel);
                using StorageFile from = crate.At(path).OpenItself();
                await using FileStream stream = from.ToStream();
                await stream.CopyToAsync(to, cancel);
            }

            if (only is null && CrateHistory.Beside(crate) is { IsFile: true } beside)
            {
                ZipArchiveEntry entry = zip.CreateEntry(beside.Name, CompressionLevel.NoCompression);
                await using Stream to = await entry.OpenAsync(cancel);
                using StorageFile from = beside.OpenItself();
                await using FileStream stream = from.ToStream();
                await stream.CopyToAsync(to, cancel);
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException && !cancel.IsCancellationRequested)
        {
            // Half a zip has gone out: the connection is cut, so that nobody takes it for a whole one.
            http.Abort();
        }

        return (new EmptyResult(), null);
    }

    /// <summary>One file of a crate, as a whole or a range of it, so that a download that broke off goes on.</summary>
    public async Task<IActionResult> FileAsync(HttpContext http, CrateRow row, string path, CancellationToken cancel)
    {
        if (crates.FolderOf(row) is not { } crate || !crate.TryAt(path, out StoragePath? at, out _))
        {
            return new NotFoundResult();
        }

        try
        {
            StorageFile file = await Task.Run(at.OpenItself, cancel);
            http.Response.RegisterForDispose(file);
            return new FileStreamResult(file.ToStream(), "application/octet-stream")
            {
                FileDownloadName = at.Name,
                EnableRangeProcessing = true,
                EntityTag = new EntityTagHeaderValue($"\"{file.Stamp.Length:x}-{file.Stamp.Modified.Ticks:x}\""),
            };
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return new NotFoundResult();
        }
    }

    /// <summary>The test composite of the lead frame as it was sealed, a PNG.</summary>
    public async Task<IActionResult> LeadAsync(CrateRow row, string lead, CancellationToken cancel)
    {
        byte[]? Read(StoragePath at)
        {
            using StorageFile file = at.OpenItself();
            using FileStream stream = file.ToStream();
            return OpenRaster.MergedOf(stream, MostLead);
        }

        try
        {
            return
                crates.FolderOf(row) is { } crate
                && crate.TryAt(lead, out StoragePath? at, out _)
                && await Task.Run(() => Read(at), cancel) is { } png
                ? new FileContentResult(png, "image/png")
                : new NotFoundResult();
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or InvalidDataException)
        {
            return new NotFoundResult();
        }
    }

    private static bool IsIn(FrameName? name, string path) => name is not { } own || own.Match(path) is not null || own.At(0) == path;
}

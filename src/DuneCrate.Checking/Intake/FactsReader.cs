using System.Globalization;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Rasters;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Intake;

/// <summary>
/// One file → facts: pure, and safe to call from any number of threads. Whatever a file contains, the outcome is facts; only trouble
/// with the disk itself is reported as a problem of its own.
/// </summary>
public static class FactsReader
{
    /// <summary>Files shorter than this cannot hold a picture: they are still being written, or were given up.</summary>
    public const int TinyBytes = 64;

    /// <summary>Seconds below which a timer does not count.</summary>
    private const double LeastTimer = 0.001;

    /// <summary>Reads one file, or has what is remembered of it; what is read is remembered unless it holds for this moment only.</summary>
    /// <inheritdoc cref="Read(IntakeFile, FactsRequest, ReadLimits, CancellationToken)"/>
    /// <param name="file">The file as the folder lists it.</param>
    /// <param name="request">What to read.</param>
    /// <param name="cache">Remembers.</param>
    /// <param name="limits">Bounds on what the file may claim and cost.</param>
    /// <param name="cancel">Stops between chunks.</param>
    public static FileFacts Read(IntakeFile file, FactsRequest request, IFactsCache cache, ReadLimits limits, CancellationToken cancel)
    {
        FileFacts facts = Read(file, request, limits, cancel);
        if (!facts.IsTransient)
        {
            cache.Keep(file with { Bytes = facts.Bytes, Modified = facts.Modified }, request, facts);
        }

        return facts;
    }

    /// <summary>Names, sizes and header of a file; null when it is not there.</summary>
    /// <param name="path">The file.</param>
    /// <param name="limits">Bounds on what it may claim.</param>
    public static FileFacts? Header(StoragePath path, ReadLimits limits) =>
        FolderListing.OfFile(path, path.Relative) is { } listed ? Read(listed, new FactsRequest(FactsDepth.Header), limits, default) : null;

    /// <summary>The header of the first file of an output that has come and opens; null where there is none.</summary>
    /// <param name="folder">The folder with the files.</param>
    /// <param name="output">The output.</param>
    /// <param name="limits">Bounds on what files may claim.</param>
    public static FileFacts? Header(StoragePath folder, PlannedOutput output, ReadLimits limits) =>
        output
            .Frames.Select(f => folder.TryAt(output.Name.At(f), out StoragePath? path, out _) ? Header(path, limits) : null)
            .FirstOrDefault(h => h?.Readable == true);

    /// <summary>Reads one file.</summary>
    /// <param name="listed">The file as the folder lists it.</param>
    /// <param name="request">What to read.</param>
    /// <param name="limits">Bounds on what the file may claim and cost.</param>
    /// <param name="cancel">Stops between chunks.</param>
    /// <exception cref="OperationCanceledException">The read was stopped.</exception>
    public static FileFacts Read(IntakeFile listed, FactsRequest request, ReadLimits limits, CancellationToken cancel)
    {
        var facts = new FileFacts
        {
            Path = listed.Path,
            Format = listed.Format,
            Bytes = listed.Bytes,
            Modified = listed.Modified,
        };
        try
        {
            using StorageFile file = listed.Place.Open();
            facts = facts with { Bytes = file.Length, Modified = file.Stamp.Modified };
            if (file.Length < TinyBytes)
            {
                return facts with
                {
                    Problem = file.Length == 0 ? "the file is empty" : $"the file has {file.Length} bytes, too few for a picture",
                    Trouble = ImageProblem.Tiny,
                };
            }

            facts = ReadInTime(listed, file, facts, request, limits, cancel);
            return facts.Content.IsEmpty || !file.HasChanged
                ? facts
                : facts with
                {
                    Content = [],
                    Problem = "somebody wrote to the file while it was read",
                    Trouble = ImageProblem.Changing,
                };
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return facts with { Problem = $"the file {StorageException.ReasonOf(e)}", Trouble = ImageProblem.NotRead };
        }
    }

    private static FileFacts ReadInTime(
        IntakeFile listed,
        StorageFile file,
        FileFacts facts,
        FactsRequest request,
        ReadLimits limits,
        CancellationToken cancel
    )
    {
        using CancellationTokenSource? timed =
            request.Depth == FactsDepth.Pixels ? CancellationTokenSource.CreateLinkedTokenSource(cancel) : null;
        if (limits.SecondsPerFile < LeastTimer)
        {
            timed?.Cancel(); // No timer is as fine; a busy machine would ring it after the file has been read.
        }

        timed?.CancelAfter(TimeSpan.FromSeconds(limits.SecondsPerFile));
        CancellationToken stop = timed?.Token ?? cancel;
        ContentHash? content = request.Depth == FactsDepth.Pixels ? new ContentHash() : null;
        try
        {
            facts =
                listed.Format == "exr"
                    ? ReadExr(file, facts, request, limits, content, stop)
                    : RasterFacts.Read(file, facts, request, limits, stop);
        }
        catch (OperationCanceledException e) when (cancel.IsCancellationRequested && e.CancellationToken != cancel)
        {
            // With the caller's own token: work side by side tells a stop from a failure by it.
            throw new OperationCanceledException(e.Message, e, cancel);
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            string seconds = limits.SecondsPerFile.ToString("0.#", CultureInfo.InvariantCulture);
            return facts with
            {
                Problem = $"reading was given up after {seconds} s; its pixels are not proved",
                Trouble = ImageProblem.NotRead,
            };
        }
        catch (ImageException e)
        {
            facts = Named(file, facts) with
            {
                Problem = e.Offset == 0 ? Otherwise(listed, file) ?? e.Message : e.Message,
                Trouble = e.Problem,
            };
        }
        catch (InsufficientMemoryException e)
        {
            return facts with { Problem = $"pixels were not checked: {e.Message}", Trouble = ImageProblem.Unsupported };
        }

        return content is null ? facts : facts with { Content = content.Finish(file.Handle, cancel) };
    }

    /// <summary>The facts with the format that the content has.</summary>
    private static FileFacts Named(StorageFile file, FileFacts facts) =>
        facts.Readable ? facts : facts with { Format = RasterFile.FormatOf(file) ?? facts.Format };

    /// <summary>That a file is of another format than its name says, or null.</summary>
    private static string? Otherwise(IntakeFile listed, StorageFile file) =>
        RasterFile.FormatOf(file) is { } format && format != listed.Format
            ? $"the file is named {RasterFile.Words(listed.Format)} and is {RasterFile.Words(format)}"
            : null;

    private static FileFacts ReadExr(
        StorageFile file,
        FileFacts facts,
        FactsRequest request,
        ReadLimits limits,
        ContentHash? content,
        CancellationToken cancel
    )
    {
        ExrFile exr = ExrFile.Read(file, limits.Exr, content);
        try
        {
            facts = facts with { Readable = true, Parts = [.. exr.Parts.Select(HeaderFacts.From)], MendedChunks = exr.MendedChunks };
            facts = ReadPixels(exr, facts, request, limits, cancel);
            return facts.Trouble == ImageProblem.None && HeaderProblem(exr) is { } problem
                ? facts with
                {
                    Problem = problem,
                    Trouble = ImageProblem.Header,
                }
                : facts;
        }
        catch (ImageException e)
        {
            // What was read of it stays.
            return facts with { Problem = e.Message, Trouble = e.Problem };
        }
        finally
        {
            exr.GiveBuffersBack();
        }
    }

    /// <summary>The first number of a header that is none, or null.</summary>
    private static string? HeaderProblem(ExrFile exr) =>
        exr
            .Parts.Select(p =>
                p.NumberProblem is not { } problem ? null
                : exr.Parts.Length > 1 ? $"{problem} (part {p.Index})"
                : problem
            )
            .FirstOrDefault(p => p is not null);

    private static FileFacts ReadPixels(ExrFile exr, FileFacts facts, FactsRequest request, ReadLimits limits, CancellationToken cancel)
    {
        var lost = new List<(int First, int Last)>();
        foreach (ExrPart part in exr.Parts)
        {
            lost.AddRange(exr.LinesBeyondEnd(part));
        }

        string? reason = lost.Count > 0 ? "the file ends before its picture does" : null;
        if (request.Depth == FactsDepth.Pixels)
        {
            lost.Clear();
            foreach (ExrPart part in exr.Parts)
            {
                PartFacts found = facts.Parts[part.Index];
                if (part.Unsupported is { } unsupported)
                {
                    facts = facts with
                    {
                        Problem = $"pixels were not checked: {unsupported}",
                        Trouble = ImageProblem.Unsupported,
                        Parts = facts.Parts.SetItem(part.Index, found with { DeepSamples = exr.CountDeepSamples(part, cancel) }),
                    };
                    continue;
                }

                using IDisposable memory = limits.Memory.Take(exr.ReadingBytes(part), cancel);
                using PixelScan scan = ExrScan.Create(part, found, request);
                reason = ExrScan.Run(exr, part, scan, lost, cancel) ?? reason;
                facts = facts with { Parts = facts.Parts.SetItem(part.Index, scan.Finish(found)), Rebuild = scan.Rebuild ?? facts.Rebuild };
            }
        }

        if (lost.Count == 0)
        {
            return facts;
        }

        FrameSet lines = FrameSet.UnionOf(lost.Select(l => FrameSet.Range(l.First, l.Last)));
        return facts with { LostLines = lines, Trouble = ImageProblem.Truncated, Problem = $"lines {Describe(lines)} are lost: {reason}" };
    }

    private static string Describe(FrameSet lines) =>
        lines.ToString().Replace("-", " to ", StringComparison.Ordinal).Replace(",", ", ", StringComparison.Ordinal);
}

using System.Collections.Immutable;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Images.Rasters;

namespace DuneCrate.Core.Intake;

/// <summary>
/// One file → facts: pure, and safe to call from any number of threads. Whatever a file contains, the outcome is facts; only trouble
/// with the disk itself is reported as a problem of its own.
/// </summary>
public static class FactsReader
{
    /// <summary>Files shorter than this cannot hold a picture: they are still being written, or were given up.</summary>
    public const int TinyBytes = 64;

    /// <summary>Reads one file.</summary>
    /// <param name="file">The file as the folder lists it.</param>
    /// <param name="request">What to read.</param>
    /// <param name="limits">Bounds on what the file may claim.</param>
    /// <param name="cancel">Stops between chunks.</param>
    /// <exception cref="OperationCanceledException">The read was stopped.</exception>
    public static FileFacts Read(IntakeFile file, FactsRequest request, ReadLimits? limits = null, CancellationToken cancel = default)
    {
        limits ??= ReadLimits.Default;
        var facts = new FileFacts { Path = file.Path, Format = file.Format, Bytes = file.Bytes, Modified = file.Modified };
        if (file.Bytes < TinyBytes)
        {
            return facts with { Problem = file.Bytes == 0 ? "the file is empty" : $"the file has {file.Bytes} bytes, too few for a picture", Trouble = ImageProblem.Tiny };
        }

        using CancellationTokenSource? timed = request.Depth == FactsDepth.Pixels ? CancellationTokenSource.CreateLinkedTokenSource(cancel) : null;
        timed?.CancelAfter(TimeSpan.FromSeconds(limits.SecondsPerFile));
        CancellationToken stop = timed?.Token ?? cancel;
        try
        {
            if (file.Format != "exr")
            {
                return RasterFacts.Read(file, facts, request, limits.Rasters, stop);
            }

            using ExrFile exr = ExrFile.Open(file.FullPath, limits.Exr);
            facts = facts with { Readable = true, Parts = [.. exr.Parts.Select(HeaderFacts.Of)], MendedChunks = exr.MendedChunks };
            return ReadExr(exr, facts, request, stop);
        }
        catch (OperationCanceledException e) when (cancel.IsCancellationRequested && e.CancellationToken != cancel)
        {
            // With the caller's own token: work side by side tells a stop from a failure by it.
            throw new OperationCanceledException(e.Message, e, cancel);
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            return facts with { Problem = string.Create(System.Globalization.CultureInfo.InvariantCulture, $"reading was given up after {limits.SecondsPerFile:0.#} s; its pixels are not proved"), Trouble = ImageProblem.Unsupported };
        }
        catch (ImageException e)
        {
            return Named(file, facts) with { Problem = e.Offset == 0 ? Otherwise(file) ?? e.Message : e.Message, Trouble = e.Problem };
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return facts with { Problem = $"the file cannot be opened: {e.Message}", Trouble = ImageProblem.Unreadable };
        }
    }

    /// <summary>The facts with the format that the content has.</summary>
    private static FileFacts Named(IntakeFile file, FileFacts facts) => facts.Readable ? facts : facts with { Format = ContentOf(file) ?? facts.Format };

    /// <summary>That a file is of another format than its name says, or null.</summary>
    private static string? Otherwise(IntakeFile file) =>
        ContentOf(file) is { } format && format != file.Format ? $"the file is named {RasterFile.Words(file.Format)} and is {RasterFile.Words(format)}" : null;

    private static string? ContentOf(IntakeFile file)
    {
        try
        {
            return RasterFile.FormatOf(file.FullPath);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    private static FileFacts ReadExr(ExrFile exr, FileFacts facts, FactsRequest request, CancellationToken cancel)
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

                using PixelScan scan = ExrScan.For(part, found, request);
                reason = ExrScan.Run(exr, part, scan, lost, cancel) ?? reason;
                facts = facts with { Parts = facts.Parts.SetItem(part.Index, scan.Finish(found)), Rebuild = scan.Rebuild ?? facts.Rebuild };
            }
        }

        if (lost.Count == 0)
        {
            return facts;
        }

        FrameSet lines = FrameSet.From(lost.SelectMany(l => Enumerable.Range(l.First, l.Last - l.First + 1)));
        return facts with { LostLines = lines, Trouble = ImageProblem.Truncated, Problem = $"lines {Describe(lines)} are lost: {reason}" };
    }

    private static string Describe(FrameSet lines) => lines.ToString().Replace("-", " to ", StringComparison.Ordinal).Replace(",", ", ", StringComparison.Ordinal);
}

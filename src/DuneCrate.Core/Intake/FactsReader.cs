using System.Buffers;
using System.Collections.Immutable;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Stacking;

namespace DuneCrate.Core.Intake;

/// <summary>
/// One file → facts: pure, and safe to call from any number of threads. Whatever a file contains, the outcome is facts; only trouble
/// with the disk itself is reported as a problem of its own.
/// </summary>
public static class FactsReader
{
    /// <summary>Files shorter than this cannot hold a picture: they are still being written, or were given up.</summary>
    public const int TinyBytes = 64;

    private const string NotExr = "{0} files are not read yet; only OpenEXR is";

    /// <summary>Reads one file.</summary>
    /// <param name="file">The file as the folder lists it.</param>
    /// <param name="request">What to read.</param>
    /// <param name="limits">Bounds on what the file may claim.</param>
    /// <param name="cancel">Stops between chunks.</param>
    /// <exception cref="OperationCanceledException">The read was stopped.</exception>
    public static FileFacts Read(IntakeFile file, FactsRequest request, ExrLimits? limits = null, CancellationToken cancel = default)
    {
        var facts = new FileFacts { Path = file.Path, Format = file.Format, Bytes = file.Bytes, Modified = file.Modified };
        if (file.Bytes < TinyBytes)
        {
            return facts with { Problem = file.Bytes == 0 ? "the file is empty" : $"the file has {file.Bytes} bytes, too few for a picture", Trouble = ImageProblem.Tiny };
        }

        if (file.Format != "exr")
        {
            return facts with { Problem = string.Format(System.Globalization.CultureInfo.InvariantCulture, NotExr, file.Format), Trouble = ImageProblem.Unsupported };
        }

        try
        {
            using ExrFile exr = ExrFile.Open(file.FullPath, limits);
            facts = facts with { Readable = true, Parts = [.. exr.Parts.Select(HeaderFacts.Of)], MendedChunks = exr.MendedChunks };
            return ReadExr(exr, facts, request, cancel);
        }
        catch (ImageException e)
        {
            return facts with { Problem = e.Message, Trouble = e.Problem };
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return facts with { Problem = $"the file cannot be opened: {e.Message}", Trouble = ImageProblem.Unreadable };
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

using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Rasters;

namespace DuneCrate.Checking.Intake;

/// <summary>A picture that is not OpenEXR → facts of the same shape.</summary>
internal static class RasterFacts
{
    /// <summary>Reads a file; its pixels are those of its first picture.</summary>
    /// <exception cref="ImageException">The header cannot be read.</exception>
    public static FileFacts Read(StorageFile file, FileFacts facts, FactsRequest request, ReadLimits limits, CancellationToken cancel)
    {
        RasterHeader header = RasterFile.ReadHeader(file, facts.Format, limits.Rasters);
        var window = PixelBox.OfSize(header.Width, header.Height);
        var part = new PartFacts
        {
            Type = header.Storage,
            Compression = header.Compression,
            DisplayWindow = window,
            DataWindow = window,
            PixelAspectRatio = header.PixelAspectRatio,
            Alpha = header.Alpha,
            FurtherPictures = header.FurtherPictures,
            Channels =
            [
                .. header.Channels.Select(c => new ChannelFacts
                {
                    Name = c,
                    Type = header.Type,
                    Pass = PassCatalogue.Shipped.PassOfChannel(c),
                }),
            ],
        };
        facts = facts with { Readable = true, Parts = [part] };
        if (request.Depth == FactsDepth.Header)
        {
            return facts;
        }

        if (header.Unsupported is { } unsupported)
        {
            return facts with { Problem = $"pixels were not checked: {unsupported}", Trouble = ImageProblem.Unsupported };
        }

        using IDisposable memory = limits.Memory.Take(RasterFile.ReadingBytes(header), cancel);
        using var scan = new PixelScan(request.Scanned(part.Channels), window, request);
        using RasterReader reader = RasterFile.OpenPixels(file, header);
        var lost = new List<FrameSet>();
        string? reason = null;
        for (int y = 0; y < header.Height; y += reader.BandLines)
        {
            int last = Math.Min(y + reader.BandLines, header.Height) - 1;
            try
            {
                ReadOnlySpan<byte> band = reader.Read(y, cancel);
                for (int line = y, bytes = band.Length / (last - y + 1); line <= last; line++)
                {
                    scan.AddLine(band.Slice((line - y) * bytes, bytes), 0, line);
                }
            }
            catch (ImageException e) when (e.Problem == ImageProblem.Truncated)
            {
                reason ??= e.Reason;
                lost.Add(FrameSet.Range(y, reader.CanGoOn ? last : header.Height - 1));
                if (!reader.CanGoOn)
                {
                    break;
                }
            }
        }

        if (lost.Count > 0)
        {
            FrameSet lines = FrameSet.UnionOf(lost);
            string which = lines.Last == header.Height - 1 ? $"lines from {lines.First} on are lost" : $"lines up to {lines.Last} are lost";
            facts = facts with { Trouble = ImageProblem.Truncated, Problem = $"{which}: {reason}", LostLines = lines };
        }

        return facts with
        {
            Parts = [scan.Finish(part)],
            Rebuild = scan.Rebuild,
        };
    }
}

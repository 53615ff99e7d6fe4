using DuneCrate.Core.Frames;
using DuneCrate.Core.Images;
using DuneCrate.Core.Images.Rasters;
using DuneCrate.Core.Intake.Measures;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Intake;

/// <summary>A picture that is not OpenEXR → facts of the same shape.</summary>
internal static class RasterFacts
{
    /// <summary>Reads a file; its pixels are those of its first picture.</summary>
    /// <exception cref="ImageException">The header cannot be read.</exception>
    public static FileFacts Read(IntakeFile file, FileFacts facts, FactsRequest request, RasterLimits limits, CancellationToken cancel)
    {
        RasterHeader header = RasterFile.ReadHeader(file.FullPath, file.Format, limits);
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
            Channels = [.. header.Channels.Select(c => new ChannelFacts { Name = c, Type = header.Type, Pass = PassCatalogue.Shipped.PassOfChannel(c) })],
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

        using var scan = new PixelScan([.. part.Channels.Select(c => new ScanChannel(c.Name, c.Type, request.PassOf(c)))], window, request);
        int next = 0;
        try
        {
            RasterFile.ReadBands(file.FullPath, header, (samples, y, lines) =>
            {
                scan.AddBand(samples, new PixelBox(0, y, header.Width - 1, y + lines - 1));
                next = y + lines;
            }, cancel);
        }
        catch (ImageException e) when (e.Problem == ImageProblem.Truncated)
        {
            int first = header.Format == "tga" && next == header.Height ? 0 : Math.Min(next, header.Height - 1);
            facts = facts with
            {
                Trouble = ImageProblem.Truncated,
                Problem = header.Format == "tga" ? e.Reason : $"lines from {first} on are lost: {e.Reason}",
                LostLines = header.Format == "tga" ? null : FrameSet.Range(first, header.Height - 1),
            };
        }

        return facts with { Parts = [scan.Finish(part)], Rebuild = scan.Rebuild };
    }
}

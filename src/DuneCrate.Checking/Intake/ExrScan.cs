using System.Buffers;
using DuneCrate.Exr;

namespace DuneCrate.Checking.Intake;

/// <summary>Takes the bands of an OpenEXR part through a <see cref="PixelScan"/>.</summary>
internal static class ExrScan
{
    /// <summary>A scan for a part, whose channels belong to passes as <paramref name="facts"/> say.</summary>
    public static PixelScan Create(ExrPart part, PartFacts facts, FactsRequest request) =>
        new(request.Scanned(facts.Channels), part.DataWindow, request, !part.IsSubsampled);

    /// <summary>Reads everything; adds the lines that are lost and returns the first reason, or null.</summary>
    public static string? Run(ExrFile file, ExrPart part, PixelScan scan, List<(int First, int Last)> lost, CancellationToken cancel)
    {
        string? reason = null;
        byte[] buffer = ArrayPool<byte>.Shared.Rent(file.LargestBand(part));
        try
        {
            for (int band = 0; band < part.Chunks.BandCount; band++)
            {
                cancel.ThrowIfCancellationRequested();
                var shape = new ExrChunkShape(part, part.Chunks.BandBox(band));
                try
                {
                    if (part.IsSubsampled)
                    {
                        AddSubsampled(part, scan, file.ReadBand(part, band, buffer), shape);
                    }
                    else
                    {
                        scan.AddBand(file.ReadPlanes(part, band, buffer, scan.At(shape.Box)));
                    }
                }
                catch (ImageException e) when (e.Problem == ImageProblem.Truncated)
                {
                    reason ??= e.Reason;
                    lost.Add((shape.Box.MinY, shape.Box.MaxY));
                }
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }

        return reason;
    }

    private static void AddSubsampled(ExrPart part, PixelScan scan, ReadOnlySpan<byte> lines, in ExrChunkShape shape)
    {
        for (int y = shape.Box.MinY; y <= shape.Box.MaxY; y++)
        {
            for (int c = 0; c < part.Channels.Length; c++)
            {
                if (shape.Has(c, y))
                {
                    int bytes = shape.LineBytes(c);
                    scan.AddSamples(c, lines[..bytes], shape.Box.MinX, y);
                    lines = lines[bytes..];
                }
            }
        }
    }
}

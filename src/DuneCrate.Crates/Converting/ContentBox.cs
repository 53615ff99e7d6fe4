using System.Runtime.InteropServices;
using DuneCrate.Exr;

namespace DuneCrate.Crates.Converting;

/// <summary>The least box that holds every sample that is not 0; what is no number counts, −0 does not.</summary>
internal static class ContentBox
{
    /// <summary>The box over some channels; a single pixel in the corner of the data window when all are 0.</summary>
    public static PixelBox Of(IReadOnlyCollection<(SourcePart Part, int Channel)> channels, CancellationToken cancel)
    {
        var box = new PixelBox(int.MaxValue, int.MaxValue, int.MinValue, int.MinValue);
        int first = channels.Min(c => c.Part.Part.DataWindow.MinY),
            last = channels.Max(c => c.Part.Part.DataWindow.MaxY);
        for (int y = first; y <= last; y++)
        {
            cancel.ThrowIfCancellationRequested();
            foreach ((SourcePart part, int channel) in channels)
            {
                PixelBox window = part.Part.DataWindow;
                if (y >= window.MinY && y <= window.MaxY && Span(part.Line(channel, y), part.Part.Channels[channel].Type) is { } found)
                {
                    box = new PixelBox(
                        Math.Min(box.MinX, window.MinX + found.First),
                        Math.Min(box.MinY, y),
                        Math.Max(box.MaxX, window.MinX + found.Last),
                        y
                    );
                }
            }
        }

        PixelBox lead = channels.First().Part.Part.DataWindow;
        return box.MinX <= box.MaxX ? box : new PixelBox(lead.MinX, lead.MinY, lead.MinX, lead.MinY);
    }

    private static (int First, int Last)? Span(ReadOnlySpan<byte> line, ExrPixelType type) =>
        type == ExrPixelType.Half
            ? Ends(MemoryMarshal.Cast<byte, ushort>(line), (ushort)0x8000)
            : Ends(MemoryMarshal.Cast<byte, uint>(line), type == ExrPixelType.Float ? 0x8000_0000u : 0u);

    private static (int First, int Last)? Ends<T>(ReadOnlySpan<T> samples, T minusZero)
        where T : unmanaged, IEquatable<T> =>
        samples.IndexOfAnyExcept(default, minusZero) is >= 0 and var first
            ? (first, samples.LastIndexOfAnyExcept(default, minusZero))
            : null;
}

using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Numerics.Tensors;
using System.Runtime.InteropServices;

namespace DuneCrate.Exr;

/// <summary>
/// One part with its pixels in memory: per channel width × height samples as 32-bit floats, row-major, top line first. Whole
/// numbers of uint channels above 2^24 are not exact in it.
/// </summary>
public sealed class ExrImage(ExrPart part, ImmutableDictionary<string, float[]> planes)
{
    /// <summary>The header.</summary>
    public ExrPart Part { get; } = part;

    /// <summary>Samples by channel name.</summary>
    public ImmutableDictionary<string, float[]> Planes { get; } = planes;

    /// <summary>Pixels across.</summary>
    public int Width => (int)Part.DataWindow.Width;

    /// <summary>Lines.</summary>
    public int Height => (int)Part.DataWindow.Height;

    /// <summary>
    /// Reads the named channels of a part (all of them when <paramref name="channels"/> is null). Lines that are lost stay 0 and are
    /// reported in <paramref name="problem"/>. Samples of subsampled channels are repeated over the pixels they stand for.
    /// </summary>
    public static ExrImage Read(
        ExrFile file,
        ExrPart part,
        IReadOnlyCollection<string>? channels,
        out string? problem,
        CancellationToken cancel
    )
    {
        problem = null;
        int width = (int)part.DataWindow.Width;
        bool[] isWanted = [.. part.Channels.Select(c => channels is null || channels.Contains(c.Name))];
        var planes = part
            .Channels.Where((_, i) => isWanted[i])
            .ToImmutableDictionary(c => c.Name, _ => new float[checked(width * (int)part.DataWindow.Height)]);
        float[] few = new float[width];
        using var lines = new ExrBand(file, part);
        int[] wanted = [.. Enumerable.Range(0, isWanted.Length).Where(c => isWanted[c])];
        Array.ForEach(wanted, lines.Want);
        for (int band = 0; band < part.Chunks.BandCount; band++)
        {
            cancel.ThrowIfCancellationRequested();
            PixelBox box = part.Chunks.BandBox(band);
            try
            {
                lines.Read(band);
            }
            catch (ImageException e) when (e.Problem == ImageProblem.Truncated)
            {
                problem ??= $"lines from {box.MinY} are lost: {e.Reason}";
                continue;
            }

            foreach (int c in wanted)
            {
                float[] plane = planes[part.Channels[c].Name];
                for (int y = box.MinY; y <= box.MaxY; y++)
                {
                    if (lines.Has(c, y))
                    {
                        Spread(lines.Line(c, y), part.Channels[c], plane, width, y - part.DataWindow.MinY, few);
                    }
                }
            }
        }

        return new ExrImage(part, planes);
    }

    private static void Spread(ReadOnlySpan<byte> samples, ExrChannel channel, float[] plane, int width, int line, float[] few)
    {
        if (channel.XSampling == 1 && channel.YSampling == 1)
        {
            ToFloats(samples, channel.Type, plane.AsSpan(line * width, width));
            return;
        }

        int count = samples.Length / channel.Type.Bytes();
        ToFloats(samples, channel.Type, few.AsSpan(0, count));
        for (int y = line; y < line + channel.YSampling && (y + 1) * width <= plane.Length; y++)
        {
            for (int x = 0; x < width; x++)
            {
                plane[y * width + x] = few[Math.Min(x / channel.XSampling, count - 1)];
            }
        }
    }

    /// <summary>
    /// The samples of all channels at one pixel, read without the rest of the picture. Coordinates as in the data window.
    /// </summary>
    /// <exception cref="ImageException">The chunk is lost or of a kind that is not read.</exception>
    public static IReadOnlyDictionary<string, float> Probe(ExrFile file, ExrPart part, int x, int y)
    {
        var values = new Dictionary<string, float>();
        if (!part.DataWindow.Contains(x, y))
        {
            return values;
        }

        using var lines = new ExrBand(file, part);
        for (int c = 0; c < part.Channels.Length; c++)
        {
            lines.Want(c);
        }

        int band = part.Chunks.BandOfLine(y),
            top = part.Chunks.BandBox(band).MinY;
        lines.Read(band);
        Span<float> value = stackalloc float[1];
        for (int c = 0; c < part.Channels.Length; c++)
        {
            // A subsampled channel has some lines only: the last of them stands for those after it.
            int line = y;
            for (; line >= top && !lines.Has(c, line); line--) { }

            if (line >= top)
            {
                int bytes = part.Channels[c].Type.Bytes();
                ToFloats(
                    lines.Line(c, line).Slice((x - part.DataWindow.MinX) / part.Channels[c].XSampling * bytes, bytes),
                    part.Channels[c].Type,
                    value
                );
                values[part.Channels[c].Name] = value[0];
            }
        }

        return values;
    }

    /// <summary>Converts samples as stored to floats.</summary>
    public static void ToFloats(ReadOnlySpan<byte> samples, ExrPixelType type, Span<float> floats)
    {
        if (type == ExrPixelType.Half)
        {
            HalfLine.ToFloats(MemoryMarshal.Cast<byte, ushort>(samples), floats);
        }
        else if (type == ExrPixelType.Float)
        {
            MemoryMarshal.Cast<byte, float>(samples).CopyTo(floats);
        }
        else
        {
            for (int i = 0; i < floats.Length; i++)
            {
                floats[i] = BinaryPrimitives.ReadUInt32LittleEndian(samples[(4 * i)..]);
            }
        }
    }

    /// <summary>
    /// Converts floats to samples as stored: rounding to nearest even for half (IEEE 754), towards zero within 0..2^32−1 for uint.
    /// </summary>
    public static void FromFloats(ReadOnlySpan<float> floats, ExrPixelType type, Span<byte> samples)
    {
        if (type == ExrPixelType.Half)
        {
            TensorPrimitives.ConvertToHalf(floats, MemoryMarshal.Cast<byte, Half>(samples));
        }
        else if (type == ExrPixelType.Float)
        {
            floats.CopyTo(MemoryMarshal.Cast<byte, float>(samples));
        }
        else
        {
            for (int i = 0; i < floats.Length; i++)
            {
                BinaryPrimitives.WriteUInt32LittleEndian(
                    samples[(4 * i)..],
                    float.IsNaN(floats[i]) ? 0 : (uint)Math.Clamp(floats[i], 0d, uint.MaxValue)
                );
            }
        }
    }
}

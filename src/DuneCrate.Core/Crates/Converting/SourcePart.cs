using System.Buffers;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Crates.Converting;

/// <summary>A part of a rendered file, read band by band as its lines are asked for. Belongs to one thread at a time.</summary>
internal sealed class SourcePart : IDisposable
{
    private readonly ExrFile _file;
    private readonly byte[] _lines;
    private readonly Dictionary<string, int> _channels;
    private int _band = -1,
        _top;

    /// <summary>Opens a part.</summary>
    /// <exception cref="CrateRefusedException">It cannot be converted.</exception>
    public SourcePart(ExrFile file, ExrPart part)
    {
        if (part.Unsupported is { } reason)
        {
            throw new CrateRefusedException($"{file.Path} cannot be converted: {reason}. Let its files go in as they are.");
        }

        if (part.IsSubsampled)
        {
            throw new CrateRefusedException(
                $"{file.Path} cannot be converted: some of its channels have fewer samples than pixels. Let its files go in as they are."
            );
        }

        (_file, Part) = (file, part);
        _lines = ArrayPool<byte>.Shared.Rent(file.LargestBand(part));
        _channels = Enumerable.Range(0, part.Channels.Length).ToDictionary(i => part.Channels[i].Name, i => i);
    }

    /// <summary>Its header.</summary>
    public ExrPart Part { get; }

    /// <summary>The number of a channel, or −1.</summary>
    public int IndexOf(string channel) => _channels.GetValueOrDefault(channel, -1);

    /// <summary>A channel's samples in a line of the data window, as stored, until another line is asked for.</summary>
    /// <exception cref="CrateRefusedException">The line is lost.</exception>
    public ReadOnlySpan<byte> Line(int channel, int y)
    {
        int band = Part.Chunks.BandOfLine(y);
        if (band != _band)
        {
            try
            {
                _file.ReadBand(Part, band, _lines);
            }
            catch (Images.ImageException e)
            {
                throw new CrateRefusedException(
                    $"{_file.Path} cannot be converted: line {y} is lost ({e.Reason}). Render it again, or let its files go in as they are."
                );
            }

            (_band, _top) = (band, Part.Chunks.BandBox(band).MinY);
        }

        int width = (int)Part.DataWindow.Width;
        return _lines.AsSpan(
            (int)((y - _top) * Part.BytesPerLine) + Part.PixelOffsets[channel] * width,
            width * Part.Channels[channel].Type.Bytes()
        );
    }

    public void Dispose() => ArrayPool<byte>.Shared.Return(_lines);
}

using DuneCrate.Exr;

namespace DuneCrate.Crates.Converting;

/// <summary>A part of a rendered file, read band by band as its lines are asked for. Belongs to one thread at a time.</summary>
internal sealed class SourcePart : IDisposable
{
    private readonly ExrFile _file;
    private readonly ExrBand _band;
    private readonly Dictionary<string, int> _channels;

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
        _band = new ExrBand(file, part);
        _channels = Enumerable.Range(0, part.Channels.Length).ToDictionary(i => part.Channels[i].Name, i => i);
    }

    /// <summary>Its header.</summary>
    public ExrPart Part { get; }

    /// <summary>The number of a channel whose lines are going to be asked for, or −1.</summary>
    public int IndexOf(string channel)
    {
        int index = _channels.GetValueOrDefault(channel, -1);
        if (index >= 0)
        {
            _band.Want(index);
        }

        return index;
    }

    /// <summary>A channel's samples in a line of the data window, as stored, until another line is asked for.</summary>
    /// <exception cref="CrateRefusedException">The line is lost.</exception>
    public ReadOnlySpan<byte> Line(int channel, int y)
    {
        int band = Part.Chunks.BandOfLine(y);
        if (band != _band.Number)
        {
            try
            {
                _band.Read(band);
            }
            catch (ImageException e)
            {
                throw new CrateRefusedException(
                    $"{_file.Path} cannot be converted: line {y} is lost ({e.Reason}). Render it again, or let its files go in as they are."
                );
            }
        }

        return _band.Line(channel, y);
    }

    public void Dispose() => _band.Dispose();
}

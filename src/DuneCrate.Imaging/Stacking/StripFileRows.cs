using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging.Colour;
using DuneCrate.Imaging.Cryptomatte;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Imaging.Stacking;

/// <summary>Lines of a strip out of its files.</summary>
internal sealed class StripFileRows : IStripRows
{
    private readonly PictureLines _colour;
    private readonly PictureLines? _mask;
    private readonly StackMask? _masked;
    private readonly float[][] _read,
        _maskRead;
    private readonly int[] _ranks;
    private readonly float _id;
    private readonly int _alphaAt;
    private readonly int[] _colourAt;

    private StripFileRows(StackStrip strip, PictureLines colour, PictureLines? mask, int width, int height)
    {
        (_colour, _mask, _masked) = (colour, mask, strip.Mask);
        _read = [.. colour.Channels.Select(_ => new float[colour.Window.Width])];
        _maskRead = [.. (mask?.Channels ?? []).Select(_ => new float[mask!.Window.Width])];
        _ranks =
            mask is null || strip.Mask!.Named is null ? [] : CryptomatteRanks.Order(mask.Channels.Select((name, index) => (name, index)));
        _id = strip.Mask?.Named is { } named ? CryptomatteHash.ToFloat(CryptomatteHash.OfName(named)) : 0;
        _alphaAt = strip.Alpha == AlphaMode.None || StackRecipe.AlphaOf(strip) is not { } alpha ? -1 : colour.Channels.IndexOf(alpha);
        int colours = StackRecipe.ColoursOf(strip);
        _colourAt = [.. Enumerable.Range(0, 3).Select(c => colour.Channels.IndexOf(strip.Channels[Math.Min(c, colours - 1)]))];
        OtherSize =
            colour.Display.Width == width && colour.Display.Height == height
                ? null
                : $"it has {colour.Display.Width} × {colour.Display.Height} pixels; it lies at the top left as it is";
    }

    public long ReadingBytes => _colour.ReadingBytes + (_mask?.ReadingBytes ?? 0);

    public string? Problem => _colour.Problem ?? _mask?.Problem;

    public string? OtherSize { get; }

    /// <summary>Opens a strip at a frame of the composite.</summary>
    /// <exception cref="ImageException">A file is not there or cannot be read; the message says which.</exception>
    public static StripFileRows Open(StackStrip strip, StoragePath folder, int frame, int width, int height, ReadLimits limits)
    {
        PictureLines colour = Open(folder, strip.Source, strip.FrameAt(frame), [.. strip.Channels], limits);
        try
        {
            PictureLines? mask = strip.Mask is { } masked
                ? Open(folder, masked.Source, strip.FrameAt(frame), masked.ChannelsToRead, limits, mayLack: masked.Named is not null)
                : null;
            return new StripFileRows(strip, colour, mask, width, height);
        }
        catch
        {
            colour.Dispose();
            throw;
        }
    }

    private static PictureLines Open(
        StoragePath folder,
        string source,
        int frame,
        ImmutableArray<string> channels,
        ReadLimits limits,
        bool mayLack = false
    )
    {
        string name = FrameName.Read(source).At(frame);
        if (!folder.TryAt(name, out StoragePath? path, out string? problem))
        {
            throw new ImageException(name, 0, problem);
        }

        if (!path.IsFile)
        {
            throw new ImageException(name, 0, "there is no such file");
        }

        try
        {
            PictureLines lines = PictureLines.Open(path, IntakeFile.FormatOf(path.Relative), channels, limits);
            if (!mayLack && channels.FirstOrDefault(c => !lines.Channels.Contains(c)) is { } missing)
            {
                lines.Dispose();
                throw new ImageException(name, 0, $"it has no channel {missing}");
            }

            return lines;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new ImageException(name, 0, $"the file {StorageException.ReasonOf(e)}");
        }
    }

    public void Read(int line, StripRow row, CancellationToken cancel)
    {
        Fetch(_colour, _read, line, cancel);
        if (_alphaAt >= 0)
        {
            Copy(_colour, _read[_alphaAt], line, row.Alpha);
        }
        else
        {
            Array.Fill(row.Alpha, 1);
        }

        for (int c = 0; c < 3; c++)
        {
            Copy(_colour, _read[_colourAt[c]], line, row.Colour[c]);
            if (_colour.IsEncoded)
            {
                SrgbCurve.Decode(row.Colour[c]);
            }
        }

        if (_mask is null)
        {
            Array.Fill(row.Mask, 1);
        }
        else
        {
            ReadMask(_mask, line, row.Mask, cancel);
        }
    }

    private void ReadMask(PictureLines mask, int line, float[] to, CancellationToken cancel)
    {
        Fetch(mask, _maskRead, line, cancel);
        if (_masked!.Named is not null)
        {
            // The mask of a name is the sum of its coverage over all ranks. Source: Cryptomatte specification 1.2.
            float[] first = _maskRead[_ranks[0]];
            for (int x = 0; x < first.Length; x++)
            {
                float covered = 0;
                for (int r = 0; r < _ranks.Length; r += 2)
                {
                    covered += _maskRead[_ranks[r]][x] == _id ? _maskRead[_ranks[r + 1]][x] : 0;
                }

                first[x] = covered;
            }
        }

        float[] read = _maskRead[_ranks.Length > 0 ? _ranks[0] : 0];
        for (int x = 0; _masked.Id is { } id && x < read.Length; x++)
        {
            read[x] = read[x] == id ? 1 : 0;
        }

        Copy(mask, read, line, to);
        for (int x = 0; _masked.Invert && x < to.Length; x++)
        {
            to[x] = 1 - to[x];
        }
    }

    private static void Fetch(PictureLines lines, float[][] read, int line, CancellationToken cancel)
    {
        long y = (long)lines.Display.MinY + line;
        if (y >= lines.Window.MinY && y <= lines.Window.MaxY)
        {
            lines.Read((int)y, read, cancel);
        }
    }

    /// <summary>The part of a line that lies in the composite; 0 where nothing is stored.</summary>
    private static void Copy(PictureLines lines, float[] read, int line, float[] to)
    {
        long y = (long)lines.Display.MinY + line,
            shift = (long)lines.Window.MinX - lines.Display.MinX,
            from = Math.Max(0, -shift),
            at = Math.Max(0, shift),
            count = Math.Min(read.Length - from, to.Length - at);
        bool isThere = y >= lines.Window.MinY && y <= lines.Window.MaxY && count > 0;
        if (!isThere || count < to.Length)
        {
            Array.Clear(to);
        }

        if (isThere)
        {
            Array.Copy(read, from, to, at, count);
        }
    }

    public void Dispose()
    {
        _colour.Dispose();
        _mask?.Dispose();
    }
}

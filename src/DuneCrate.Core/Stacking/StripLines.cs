using DuneCrate.Core.Images;
using DuneCrate.Core.Images.Colour;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Storage;

namespace DuneCrate.Core.Stacking;

/// <summary>A strip at one frame, line by line from the top: colour times alpha, alpha, weight. One thread at a time.</summary>
internal sealed class StripLines : IDisposable
{
    private readonly StackStrip _strip;
    private readonly PictureLines _colour;
    private readonly PictureLines? _mask;
    private readonly float[][] _read,
        _maskRead;
    private readonly float[] _maskLine;
    private readonly float _gain;
    private readonly int _alphaAt;
    private readonly int[] _colourAt;

    private StripLines(StackStrip strip, PictureLines colour, PictureLines? mask, int width)
    {
        (_strip, _colour, _mask) = (strip, colour, mask);
        _gain = (float)Math.Pow(2, strip.Gain);
        _read = [.. colour.Channels.Select(_ => new float[colour.Window.Width])];
        _maskRead = [.. (mask?.Channels ?? []).Select(_ => new float[mask!.Window.Width])];
        _alphaAt = strip.Alpha == AlphaMode.None || StackRecipe.AlphaOf(strip) is not { } alpha ? -1 : colour.Channels.IndexOf(alpha);
        int colours = StackRecipe.ColoursOf(strip);
        _colourAt = [.. Enumerable.Range(0, 3).Select(c => colour.Channels.IndexOf(strip.Channels[colours == 1 ? 0 : c]))];
        _maskLine = new float[width];
        (Colour, Alpha, Weight) = ([new float[width], new float[width], new float[width]], new float[width], new float[width]);
    }

    /// <summary>Red, green and blue of the line, times alpha.</summary>
    public float[][] Colour { get; }

    /// <summary>Alpha of the line; 1 where the strip has none.</summary>
    public float[] Alpha { get; }

    /// <summary>Opacity times mask.</summary>
    public float[] Weight { get; }

    /// <summary>Memory that reading takes.</summary>
    public long ReadingBytes => _colour.ReadingBytes + (_mask?.ReadingBytes ?? 0);

    /// <summary>What is lost of the lines read so far, or null.</summary>
    public string? Problem => _colour.Problem ?? _mask?.Problem;

    /// <summary>The picture's size where it is not that of the composite; or null.</summary>
    public string? OtherSize(int width, int height) =>
        _colour.Display.Width == width && _colour.Display.Height == height
            ? null
            : $"it has {_colour.Display.Width} × {_colour.Display.Height} pixels; it lies at the top left as it is";

    /// <summary>Opens a strip at a frame of the composite.</summary>
    /// <exception cref="ImageException">A file is not there or cannot be read; the message says which.</exception>
    public static StripLines Open(StackStrip strip, StoragePath folder, int frame, int width, ReadLimits limits)
    {
        PictureLines colour = Open(folder, strip.Source, strip.FrameAt(frame), strip.Channels, limits);
        try
        {
            PictureLines? mask = strip.Mask is null
                ? null
                : Open(folder, strip.Mask.Source, strip.FrameAt(frame), [strip.Mask.Channel], limits);
            return new StripLines(strip, colour, mask, width);
        }
        catch
        {
            colour.Dispose();
            throw;
        }
    }

    private static PictureLines Open(StoragePath folder, string source, int frame, string[] channels, ReadLimits limits)
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
            if (channels.FirstOrDefault(c => !lines.Channels.Contains(c)) is { } missing)
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

    /// <summary>Reads a line of the composite, from 0 at the top of the display window.</summary>
    public void Read(int line, CancellationToken cancel)
    {
        Place(_colour, _read, line, cancel);
        Array.Fill(Weight, (float)_strip.Opacity);
        if (_alphaAt >= 0)
        {
            Copy(_colour, _read[_alphaAt], line, Alpha);
        }
        else
        {
            Array.Fill(Alpha, 1);
        }

        for (int c = 0; c < 3; c++)
        {
            Copy(_colour, _read[_colourAt[c]], line, Colour[c]);
            if (_colour.IsEncoded)
            {
                SrgbCurve.Decode(Colour[c]);
            }

            for (int x = 0; x < Colour[c].Length; x++)
            {
                Colour[c][x] *= _strip.Alpha == AlphaMode.Straight ? _gain * Alpha[x] : _gain;
            }
        }

        if (_mask is not null)
        {
            Place(_mask, _maskRead, line, cancel);
            Copy(_mask, _maskRead[0], line, _maskLine);
            for (int x = 0; x < Weight.Length; x++)
            {
                Weight[x] *= _strip.Mask!.Invert ? 1 - _maskLine[x] : _maskLine[x];
            }
        }
    }

    private static void Place(PictureLines lines, float[][] read, int line, CancellationToken cancel)
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
        Array.Clear(to);
        long y = (long)lines.Display.MinY + line,
            shift = (long)lines.Window.MinX - lines.Display.MinX;
        if (y < lines.Window.MinY || y > lines.Window.MaxY)
        {
            return;
        }

        long from = Math.Max(0, -shift),
            at = Math.Max(0, shift),
            count = Math.Min(read.Length - from, to.Length - at);
        if (count > 0)
        {
            Array.Copy(read, from, to, at, count);
        }
    }

    /// <summary>Closes the files.</summary>
    public void Dispose()
    {
        _colour.Dispose();
        _mask?.Dispose();
    }
}

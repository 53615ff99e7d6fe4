using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging.Rasters;

namespace DuneCrate.Imaging;

/// <summary>
/// Channels of a picture of any format, line by line from the top as floats, with no more than a band of it in memory. 8- and 16-bit
/// samples stand for 0..1. One thread at a time.
/// </summary>
public sealed class PictureLines : IDisposable
{
    private readonly Source[] _sources;

    private PictureLines(ImmutableArray<string> channels, PixelBox window, PixelBox display, bool isEncoded, Source[] sources)
    {
        (Channels, Window, Display, IsEncoded, _sources) = (channels, window, display, isEncoded, sources);
        ReadingBytes = sources.Sum(s => s.ReadingBytes);
    }

    /// <summary>The channels that were asked for and are there, in the order asked for.</summary>
    public ImmutableArray<string> Channels { get; }

    /// <summary>The data window.</summary>
    public PixelBox Window { get; }

    /// <summary>The display window.</summary>
    public PixelBox Display { get; }

    /// <summary>Whether colours are stored along the sRGB curve, as 8- and 16-bit pictures have them (common practice).</summary>
    public bool IsEncoded { get; }

    /// <summary>Memory that reading takes. None of it is taken before the first line is read.</summary>
    public long ReadingBytes { get; }

    /// <summary>What is lost of the lines read so far, or null.</summary>
    public string? Problem { get; private set; }

    /// <summary>Opens a picture.</summary>
    /// <param name="path">The file.</param>
    /// <param name="format">What its name promises: exr, png, tiff, jpeg or tga.</param>
    /// <param name="channels">Names of channels.</param>
    /// <param name="limits">Bounds on what it may claim.</param>
    /// <param name="held">The pass of a file that holds one, so that its channels are found whatever they are called; or null.</param>
    /// <param name="part">The part of an OpenEXR file that has them; null for whichever does first.</param>
    /// <exception cref="ImageException">The file cannot be read, has none of the channels, or has them in parts of different
    /// windows.</exception>
    /// <exception cref="IOException">The file cannot be opened.</exception>
    public static PictureLines Open(
        StoragePath path,
        string format,
        IReadOnlyCollection<string> channels,
        ReadLimits limits,
        HeldPass? held = null,
        int? part = null
    ) => format == "exr" ? OpenExr(path, channels, limits.Exr, held, part) : OpenRaster(path, format, channels, limits.Rasters, held);

    /// <summary>Reads the next line. Lines are asked for from the top; some may be left out.</summary>
    /// <param name="y">The line, in data window coordinates.</param>
    /// <param name="lines">By channel: as many floats as the window is wide. All 0 where the line is lost.</param>
    /// <param name="cancel">Stops.</param>
    /// <returns>False when the line is lost.</returns>
    /// <exception cref="ImageException">The pixels are of a kind that is not read.</exception>
    public bool Read(int y, IReadOnlyList<float[]> lines, CancellationToken cancel)
    {
        bool isWhole = true;
        foreach (Source source in _sources)
        {
            try
            {
                source.Read(y, lines, cancel);
            }
            catch (ImageException e) when (e.Problem == ImageProblem.Truncated)
            {
                Problem ??= $"lines from {y} are lost: {e.Reason}";
                isWhole = false;
                source.Clear(lines);
            }
        }

        return isWhole;
    }

    /// <summary>Closes the file.</summary>
    public void Dispose()
    {
        foreach (Source source in _sources)
        {
            source.Dispose();
        }
    }

    private static PictureLines OpenExr(StoragePath path, IReadOnlyCollection<string> channels, ExrLimits limits, HeldPass? held, int? part)
    {
        ExrFile file = ExrFile.Open(path, limits);
        var sources = new List<ExrSource>();
        try
        {
            ExrPart[] among = [.. file.Parts.Where(p => part is null || p.Index == part)];
            (string Name, string Stored, int Part)[] homes =
            [
                .. Stored(channels, [.. among.SelectMany(p => p.Channels).Select(c => c.Name)], held)
                    .Select(c => (c.Name, c.Stored, among.FirstOrDefault(p => p.Channels.Any(k => k.Name == c.Stored))?.Index ?? -1))
                    .Where(h => h.Item3 >= 0),
            ];
            int[] parts = [.. homes.Select(h => h.Part).Distinct()];
            if (parts.Length == 0)
            {
                throw None(path, channels);
            }

            PixelBox window = file.Parts[parts[0]].DataWindow;
            foreach (int index in parts)
            {
                // Parts are read side by side: each has a handle of its own, so that none reads ahead for nothing.
                ExrFile own = index == parts[0] ? file : ExrFile.Open(path, limits);
                sources.Add(
                    new ExrSource(
                        own,
                        own.Parts[index],
                        [.. homes.Index().Where(h => h.Item.Part == index).Select(h => (h.Item.Stored, h.Index))]
                    )
                );
                if (own.Parts[index].DataWindow != window)
                {
                    throw new ImageException(path.Display, 0, "the channels lie in parts of different data windows");
                }
            }

            return new PictureLines([.. homes.Select(h => h.Name)], window, file.Parts[parts[0]].DisplayWindow, false, [.. sources]);
        }
        catch
        {
            file.Dispose();
            sources.ForEach(s => s.Dispose());
            throw;
        }
    }

    private static PictureLines OpenRaster(
        StoragePath path,
        string format,
        IReadOnlyCollection<string> channels,
        RasterLimits limits,
        HeldPass? held
    )
    {
        StorageFile file = path.Open();
        try
        {
            RasterHeader header = RasterFile.ReadHeader(file, format, limits);
            (int Index, string Name)[] wanted =
            [
                .. Stored(channels, header.Channels, held)
                    .Select(c => (header.Channels.IndexOf(c.Stored), c.Name))
                    .Where(c => c.Item1 >= 0),
            ];
            return wanted.Length == 0
                ? throw None(path, channels)
                : new PictureLines(
                    [.. wanted.Select(c => c.Name)],
                    PixelBox.OfSize(header.Width, header.Height),
                    PixelBox.OfSize(header.Width, header.Height),
                    header.Type is ChannelType.UInt8 or ChannelType.UInt16,
                    [new RasterSource(file, header, RasterFile.OpenPixels(file, header), [.. wanted.Select(c => c.Index)])]
                );
        }
        catch
        {
            file.Dispose();
            throw;
        }
    }

    /// <summary>The channels that are asked for, with the names that they have in the file.</summary>
    private static IEnumerable<(string Name, string Stored)> Stored(
        IReadOnlyCollection<string> channels,
        IReadOnlyCollection<string> stored,
        HeldPass? held
    )
    {
        var names = held?.Match(stored).ToDictionary(m => m.Planned, m => m.Stored);
        return channels.Distinct().Select(c => (c, names?.GetValueOrDefault(c) ?? c));
    }

    private static ImageException None(StoragePath path, IReadOnlyCollection<string> channels) =>
        new(path.Display, 0, $"it has none of {string.Join(", ", channels)}");

    /// <summary>Where some of the channels come from.</summary>
    private abstract class Source : IDisposable
    {
        public abstract long ReadingBytes { get; }

        public abstract void Read(int y, IReadOnlyList<float[]> lines, CancellationToken cancel);

        public abstract void Clear(IReadOnlyList<float[]> lines);

        public abstract void Dispose();
    }

    /// <summary>Channels of one part of an OpenEXR file.</summary>
    private sealed class ExrSource : Source
    {
        private readonly ExrFile _file;
        private readonly ExrPart _part;
        private readonly (int Channel, int Line)[] _wanted;
        private readonly float[] _few;
        private readonly ExrBand _band;
        private int _loaded = -1;
        private ImageException? _lost;

        public ExrSource(ExrFile file, ExrPart part, (string Name, int Line)[] wanted)
        {
            (_file, _part, _band) = (file, part, new ExrBand(file, part));
            _wanted = [.. wanted.Select(w => (part.Channels.ToList().FindIndex(c => c.Name == w.Name), w.Line))];
            Array.ForEach(_wanted, w => _band.Want(w.Channel));
            _few = part.IsSubsampled ? new float[part.DataWindow.Width] : [];
        }

        public override long ReadingBytes => _file.ReadingBytes(_part);

        public override void Read(int y, IReadOnlyList<float[]> lines, CancellationToken cancel)
        {
            foreach ((int channel, int line) in _wanted)
            {
                // A subsampled channel has some lines only: the last of them stands for those after it.
                int sampling = _part.Channels[channel].YSampling,
                    from = sampling == 1 ? y : y - (int)((((long)y % sampling) + sampling) % sampling);
                Copy(channel, Math.Max(from, _part.DataWindow.MinY), lines[line], cancel);
            }
        }

        public override void Clear(IReadOnlyList<float[]> lines)
        {
            foreach ((_, int line) in _wanted)
            {
                Array.Clear(lines[line]);
            }
        }

        private void Copy(int channel, int y, float[] to, CancellationToken cancel)
        {
            Load(_part.Chunks.BandOfLine(y), cancel);
            ExrChannel of = _part.Channels[channel];
            if (!_band.Has(channel, y))
            {
                // Above the first line that has samples.
                Array.Clear(to);
                return;
            }

            if (of is { XSampling: 1 })
            {
                ExrImage.ToFloats(_band.Line(channel, y), of.Type, to);
                return;
            }

            ReadOnlySpan<byte> samples = _band.Line(channel, y);
            int count = samples.Length / of.Type.Bytes();
            ExrImage.ToFloats(samples, of.Type, _few.AsSpan(0, count));
            for (int x = 0; x < to.Length; x++)
            {
                to[x] = _few[Math.Min(x / of.XSampling, count - 1)];
            }
        }

        private void Load(int band, CancellationToken cancel)
        {
            if (band != _loaded)
            {
                cancel.ThrowIfCancellationRequested();
                (_loaded, _lost) = (band, null);
                try
                {
                    _band.Read(band);
                }
                catch (ImageException e) when (e.Problem == ImageProblem.Truncated)
                {
                    _lost = e;
                }
            }

            if (_lost is not null)
            {
                throw _lost;
            }
        }

        public override void Dispose()
        {
            _band.Dispose();
            _file.Dispose();
        }
    }

    /// <summary>Channels of a picture that is not OpenEXR.</summary>
    private sealed class RasterSource(StorageFile file, RasterHeader header, RasterReader reader, int[] wanted) : Source
    {
        private int _band = -1;
        private byte[] _lines = [];
        private ImageException? _lost;

        public override long ReadingBytes => RasterFile.ReadingBytes(header);

        public override void Read(int y, IReadOnlyList<float[]> lines, CancellationToken cancel)
        {
            int band = y / reader.BandLines,
                bytes = header.Width * header.Type.Bytes();
            if (band != _band && (_lost is null || reader.CanGoOn))
            {
                Load(band, cancel);
            }

            if (_lost is not null)
            {
                throw _lost;
            }

            for (int i = 0; i < wanted.Length; i++)
            {
                SampleLine.ToFloats(
                    _lines.AsSpan((y - band * reader.BandLines) * reader.LineBytes + wanted[i] * bytes, bytes),
                    header.Type,
                    lines[i]
                );
            }
        }

        public override void Clear(IReadOnlyList<float[]> lines)
        {
            foreach (float[] line in lines.Take(wanted.Length))
            {
                Array.Clear(line);
            }
        }

        private void Load(int band, CancellationToken cancel)
        {
            (_band, _lost) = (band, null);
            try
            {
                if (_lines.Length == 0)
                {
                    _lines = new byte[reader.LineBytes * reader.BandLines];
                }

                reader.Read(band * reader.BandLines, cancel).CopyTo(_lines);
            }
            catch (ImageException e) when (e.Problem == ImageProblem.Truncated)
            {
                _lost = e;
            }
        }

        public override void Dispose()
        {
            reader.Dispose();
            file.Dispose();
        }
    }
}

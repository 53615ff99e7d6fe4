using System.Collections.Immutable;
using DuneCrate.Checking.Comparing;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Pictures;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Colour;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Views;

namespace DuneCrate.Shots.Pictures;

/// <summary>
/// Tiles of a pyramid: at level n a sample stands for 2ⁿ × 2ⁿ pixels. A file is read in strips that are as high as some tiles, so that
/// a small picture is read once and a large one where somebody looks.
/// </summary>
public sealed partial class PictureService
{
    /// <summary>Samples that a tile has on each side.</summary>
    public const int TileSide = 512;

    /// <summary>The highest level: a sample for 4,096 × 4,096 pixels.</summary>
    public const int MostLevels = 12;

    /// <summary>Pixels on each side of which samples are told at once.</summary>
    public const int MostTold = 96;

    private const long StripPixels = 2_500_000,
        KeptHeaders = 2_000,
        KeptNames = 500_000;
    private const int RangeWidth = 960,
        LargePixels = 4_000_000,
        MostBands = 4;

    private readonly SharedCache<PictureKey, FileFacts> _headers = new(KeptHeaders, (_, _) => 1);
    private readonly SharedCache<PictureKey, ImmutableDictionary<float, string>> _mattes = new(KeptNames, (_, n) => n.Count + 1);

    /// <summary>What a pass at a frame is in a file; null when it has not come.</summary>
    /// <param name="shot">The shot.</param>
    /// <param name="sought">The picture.</param>
    /// <param name="cancel">Leaves.</param>
    public async Task<SeenFile?> FindAsync(ShotView shot, PictureAddress sought, CancellationToken cancel)
    {
        (string layer, string pass) = (sought.Layer, sought.Pass);
        PlannedOutput? output = shot.Outputs.FirstOrDefault(o => o.Layer.Name == layer && o.Passes.Any(p => p.Pass == pass));
        if (output is null || await AtAsync(() => FileOf(shot, output, sought), cancel) is not var (path, stamp, source))
        {
            return null;
        }

        SeenFile seen = Seen(shot.Plan.Catalogue, output, sought, path, stamp, source);
        if (source.AsOf is not { } moment || stamp.Modified <= moment)
        {
            return seen;
        }

        // The file is another by now: what was kept of it then is all that is left.
        string? kept = await AtAsync(() => _proxies.Before(seen, moment), cancel);
        return kept is null ? null : seen with { Kept = kept };
    }

    private static SeenFile Seen(
        PassCatalogue catalogue,
        PlannedOutput output,
        PictureAddress sought,
        StoragePath path,
        FileStamp stamp,
        FrameSource source
    )
    {
        if (sought.Channels is { Length: > 0 } channels)
        {
            ImmutableArray<string> named = [.. channels.Split(',').Take(4)];
            string other = catalogue.PassOfChannel(named[0]) ?? "";
            return new SeenFile(path, stamp, other, catalogue.Find(other), named, sought.Part, null, null, null, false);
        }

        PassPlan planned = output.Passes.First(p => p.Pass == sought.Pass);
        return new SeenFile(
            path,
            stamp,
            sought.Pass,
            catalogue.Find(sought.Pass),
            source.ChannelsOf(output, sought.Pass) ?? [.. planned.Channels.Keys],
            null,
            output.Held,
            planned.Near,
            planned.Far,
            output.Layer.Alpha == AlphaMode.Straight
        );
    }

    /// <summary>The header of a file.</summary>
    public Task<FileFacts> HeaderAsync(SeenFile seen, CancellationToken cancel) =>
        _headers.GetAsync(
            new PictureKey(seen.Path, seen.Stamp, ""),
            stop => ReadAsync(_ => FactsReader.Read(Listed(seen), new FactsRequest(FactsDepth.Header), _limits, stop), stop),
            cancel
        );

    /// <summary>
    /// How far two files are apart, over every channel that both have; over the pass's alone where its channels have other names there.
    /// </summary>
    public Task<FileDifference> CompareAsync(SeenFile a, SeenFile b, CancellationToken cancel) =>
        a.Kept is null && b.Kept is null
            ? ReadAsync(_ => FileComparison.Compare(Listed(a), Listed(b), 0, _limits, cancel, Renamed(a, b)), cancel)
            : throw new ImageException("", 0, "the file was written anew since; of the earlier one only a small picture is kept");

    private static Dictionary<string, string>? Renamed(SeenFile a, SeenFile b) =>
        a.Channels.SequenceEqual(b.Channels)
            ? null
            : a.Channels.Zip(b.Channels).DistinctBy(c => c.First).ToDictionary(c => c.First, c => c.Second);

    private static IntakeFile Listed(SeenFile seen) =>
        FolderListing.OfFile(seen.Path, seen.Path.Relative) ?? throw new ImageException("", 0, "the file is gone");

    /// <summary>The names that the manifests of a file's Cryptomattes give to ids.</summary>
    public Task<ImmutableDictionary<float, string>> MatteNamesAsync(SeenFile seen, CancellationToken cancel) =>
        _mattes.GetAsync(
            new PictureKey(seen.Path, seen.Stamp, ""),
            stop => ReadAsync(_ => MatteNames.Of(seen.Path, _limits), stop),
            cancel
        );

    /// <summary>A tile's pixels; null beyond the picture.</summary>
    /// <param name="seen">What is looked at.</param>
    /// <param name="window">Its data window.</param>
    /// <param name="level">The level, from 0 for every pixel.</param>
    /// <param name="column">The tile's column, from 0.</param>
    /// <param name="row">Its row.</param>
    /// <param name="cancel">Leaves.</param>
    /// <exception cref="ImageException">The file cannot be read; the message says why.</exception>
    /// <exception cref="PicturesBusyException">Too many wait.</exception>
    public async Task<PassPixels?> TileAsync(SeenFile seen, PixelBox window, int level, int column, int row, CancellationToken cancel)
    {
        int shrink = 1 << Math.Clamp(level, 0, MostLevels),
            wide = PicturePlanes.Across(window.Width, shrink),
            high = PicturePlanes.Across(window.Height, shrink);
        if (column < 0 || row < 0 || column * (long)TileSide >= wide || row * (long)TileSide >= high)
        {
            return null;
        }

        if (shrink > 1 && shrink == ProxyStore.Shrink(window))
        {
            // The file is read whole at this level: what is read is kept, and a file whose proxy is there is not read.
            PassPixels proxy = await ProxyAsync(seen, window, cancel);
            return proxy.Cut(column * TileSide, row * TileSide, TileSide, TileSide);
        }

        int rows = (int)Math.Max(1, StripPixels / ((long)wide * TileSide)),
            strip = row / rows,
            top = window.MinY + strip * rows * TileSide * shrink;
        var box = new PixelBox(window.MinX, top, window.MaxX, (int)Math.Min(window.MaxY, top + (long)rows * TileSide * shrink - 1));
        PassPixels pixels = await StripAsync(seen, shrink, box, cancel);
        return pixels.Cut(column * TileSide, (row - strip * rows) * TileSide, TileSide, TileSide);
    }

    /// <summary>The whole picture, shrunk for a width.</summary>
    /// <param name="seen">What is looked at.</param>
    /// <param name="window">Its data window.</param>
    /// <param name="width">Pixels across that are wanted; 0 for as many as there are.</param>
    /// <param name="cancel">Leaves.</param>
    public Task<PassPixels> WholeAsync(SeenFile seen, PixelBox window, int width, CancellationToken cancel) =>
        width is > 0 and <= ProxyStore.Side ? ProxyAsync(seen, window, cancel) : StripAsync(seen, Shrink(window, width), window, cancel);

    /// <summary>The window of what is looked at.</summary>
    /// <exception cref="ImageException">The file cannot be read, or has none of the channels.</exception>
    public async Task<PixelBox> WindowAsync(SeenFile seen, CancellationToken cancel)
    {
        FileFacts header = await HeaderAsync(seen, cancel);
        return seen.PartIn(header).DataWindow;
    }

    /// <summary>The proxy of a picture: the one that is kept, else it is made and kept.</summary>
    /// <param name="seen">What is looked at.</param>
    /// <param name="window">Its data window.</param>
    /// <param name="cancel">Leaves.</param>
    public async Task<PassPixels> ProxyAsync(SeenFile seen, PixelBox window, CancellationToken cancel)
    {
        PicturePlanes planes = await _planes.GetAsync(
            new PictureKey(seen.Path, seen.Stamp, $"{seen.Key}|{seen.Kept}|proxy"),
            stop =>
                ReadAsync(
                    memory => _proxies.Read(seen) ?? _proxies.Keep(seen, Read(seen, ProxyStore.Shrink(window), window, memory, stop)),
                    stop
                ),
            cancel
        );
        return PassPixels.From(planes, seen.Pass, seen.Definition, seen.Channels);
    }

    /// <summary>The primaries of a part: the header's, else the show's.</summary>
    public static Primaries? PrimariesOf(ShotView shot, PartFacts part) =>
        Primaries.From(part.Chromaticities) ?? Primaries.OfSpace(shot.Plan.Show.ColourSpace);

    /// <summary>The samples of a few pixels, in data window coordinates.</summary>
    public Task<PassPixels> SamplesAsync(SeenFile seen, PixelBox box, CancellationToken cancel) => StripAsync(seen, 1, box, cancel);

    /// <summary>What data is shown between: as planned, else what is found in the picture.</summary>
    public async Task<(double Near, double Far)> RangeAsync(SeenFile seen, PixelBox window, CancellationToken cancel)
    {
        if (seen is { Near: { } planned, Far: { } end })
        {
            return (planned, end);
        }

        PassPixels small = await StripAsync(seen, Shrink(window, RangeWidth), window, cancel);
        if (small.Channels.IsEmpty)
        {
            return (0, 1);
        }

        if (seen.Definition?.Has(PassMeasures.Motion) == true && small.Channels.Length >= 2)
        {
            return (0, PictureMaker.Lengths(small.Channels[0].Plane, small.Channels[1].Plane));
        }

        (float near, float far) = PictureMaker.Range(small.Channels[0].Plane);
        return (seen.Near ?? near, seen.Far ?? far);
    }

    private async Task<PassPixels> StripAsync(SeenFile seen, int shrink, PixelBox box, CancellationToken cancel)
    {
        PicturePlanes planes = await _planes.GetAsync(
            new PictureKey(seen.Path, seen.Stamp, $"{seen.Key}|{seen.Kept}|{shrink}|{box}"),
            stop => ReadAsync(memory => Read(seen, shrink, box, memory, stop), stop),
            cancel
        );
        return PassPixels.From(planes, seen.Pass, seen.Definition, seen.Channels);
    }

    private PicturePlanes Read(SeenFile seen, int shrink, PixelBox box, Func<long, IDisposable> memory, CancellationToken stop)
    {
        if (seen.Kept is not null)
        {
            return _proxies.Read(seen)?.At(shrink, box) ?? throw new ImageException("", 0, "what was kept of it is gone");
        }

        PictureLines Open() =>
            PictureLines.Open(seen.Path, IntakeFile.FormatOf(seen.Path.Relative), seen.Channels, _limits, seen.Held, seen.Part);
        using PictureLines lines = Open();
        PixelBox part = lines.Window.Intersect(box);
        if (part.IsEmpty)
        {
            throw new ImageException("", 0, "nothing of the picture lies there");
        }

        int bands = part.Width * part.Height > LargePixels ? Math.Min(MostBands, Environment.ProcessorCount) : 1;
        using IDisposable held = memory(bands * lines.ReadingBytes + PicturePlanes.BytesOf(part, shrink, 2 * seen.Channels.Length));
        return bands == 1
            ? PicturePlanes.Read(lines, shrink, seen.IsMean, box, stop)
            : PicturePlanes.ReadInBands(Open, bands, shrink, seen.IsMean, part, stop);
    }
}

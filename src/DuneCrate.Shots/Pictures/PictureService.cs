using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Pictures;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Views;

namespace DuneCrate.Shots.Pictures;

/// <summary>
/// Reads pixels for pages and keeps the last ones, so that exposure and flipping answer at once. Large pictures shrink while they are read.
/// As many are read at once as there are cores,
/// within a bound on memory; those who ask for the same share it; when everybody has left, the reading stops. Safe to call from several
/// threads.
/// </summary>
public sealed partial class PictureService : IDisposable
{
    /// <summary>Pixels of a picture that is read for a page; a larger one is shrunk to them.</summary>
    public const long MostPixels = 9_000_000;

    /// <summary>Samples of a rebuild's seven planes, of which a page shows several pictures; a residual keeps its greatest.</summary>
    private const long MostRebuilt = 1_200_000;

    private const long KeptBytes = 96L << 20;
    private const int MostWaiting = 200,
        ProbeBytes = 32 << 20,
        BytesOfPicture = 8;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(60);

    private readonly SharedCache<PictureKey, PicturePlanes> _planes = new(KeptBytes, (_, p) => p.Bytes);
    private readonly SharedCache<PictureKey, RebuildPixels> _rebuilds = new(KeptBytes / 4, (_, p) => p.Bytes);
    private readonly SemaphoreSlim _readers = new(Math.Max(2, Environment.ProcessorCount));
    private readonly ReadLimits _limits;
    private readonly FrameSources _sources;
    private readonly ProxyStore _proxies;
    private int _waiting;

    /// <summary>Reads under the application's limits.</summary>
    public PictureService(ReadLimits limits, FrameSources sources, ProxyStore proxies) =>
        (_limits, _sources, _proxies) = (limits, sources, proxies);

    /// <summary>Names what was read of a file as it was at a moment.</summary>
    /// <param name="File">The file.</param>
    /// <param name="Stamp">What the file system said of it.</param>
    /// <param name="What">Channels and shrinking.</param>
    private sealed record PictureKey(StoragePath File, FileStamp Stamp, string What);

    /// <summary>
    /// The file that holds a pass at a frame, with what the file system says of it; null when it has not come or lies outside the shot's
    /// folder.
    /// </summary>
    private static (StoragePath Path, FileStamp Stamp)? FileOf(ShotView shot, PlannedOutput output, int frame) =>
        shot.Folder?.TryAt(output.Name.At(frame), out StoragePath? path, out _) == true && path.Look() is { Kind: FileKind.Regular } stamp
            ? (path, stamp)
            : null;

    /// <summary>The same of a picture that may lie in another version, a folder beside the shot's or a crate.</summary>
    private (StoragePath Path, FileStamp Stamp, FrameSource Source)? FileOf(ShotView shot, PlannedOutput output, PictureAddress sought) =>
        _sources.Find(shot, sought.From) is { } source
        && source.NameOf(output, sought.Pass) is { } name
        && source.Folder.TryAt(name.At(sought.Frame + source.FrameShift), out StoragePath? path, out _)
        && path.Look() is { Kind: FileKind.Regular } stamp
            ? (path, stamp, source)
            : null;

    /// <summary>Beauty, sum and residual of a layer at a frame with the terms that are being tried, or null when the layer names no sum or
    /// a file has not come.</summary>
    /// <exception cref="ImageException">A file cannot be read; the message says why.</exception>
    /// <exception cref="PicturesBusyException">Too many wait.</exception>
    public async Task<RebuildPixels?> RebuildAsync(ShotView shot, string layer, int frame, RebuildTry tried, CancellationToken cancel)
    {
        LayerPlan? plan = shot.Seen.FindLayer(layer);
        if (plan is null || RebuildRecipe.From(tried.In(plan)) is not { } recipe)
        {
            return null;
        }

        ImmutableArray<double> weights = tried.WeightsFor(recipe.Terms.Length);

        var homes = recipe
            .Channels.Distinct()
            .GroupBy(c => shot.Outputs.FirstOrDefault(o => o.Layer.Name == layer && o.Passes.Any(p => RebuildRecipe.IsOf(c, p))))
            .ToArray();
        var files = await AtAsync(
            () =>
                homes
                    .Select(h =>
                        h.Key is { } output && FileOf(shot, output, frame) is var (path, stamp)
                            ? (Path: path, Stamp: stamp, Channels: h.ToImmutableArray(), output.Held)
                            : default
                    )
                    .ToArray(),
            cancel
        );
        if (files.Length == 0 || files.Any(f => f.Path is null))
        {
            return null;
        }

        var key = new PictureKey(
            files[0].Path,
            files[0].Stamp,
            $"{recipe.Signature}|{string.Join(' ', weights)}|{string.Join('|', files.Select(f => $"{f.Path.FullPath} {f.Stamp}"))}"
        );
        return await _rebuilds.GetAsync(
            key,
            stop => ReadAsync(memory => Sum(recipe, weights, [.. files.Select(f => (f.Path, f.Channels, f.Held))], memory, stop), stop),
            cancel
        );
    }

    /// <summary>
    /// The samples of every pass of a layer at one pixel, in data window coordinates, by pass; passes whose file has not come or cannot be
    /// read are left out.
    /// Whole numbers of 8 and 16 bits stand for 0..1.
    /// </summary>
    /// <exception cref="PicturesBusyException">Too many wait.</exception>
    public Task<List<(string Pass, IReadOnlyList<(string Channel, float Value)> Samples)>> ProbeAsync(
        ShotView shot,
        string layer,
        int frame,
        int x,
        int y,
        CancellationToken cancel
    ) =>
        ReadAsync(
            memory =>
            {
                var found = new List<(string, IReadOnlyList<(string, float)>)>();
                foreach (PlannedOutput output in shot.Outputs.Where(o => o.Layer.Name == layer))
                {
                    if (FileOf(shot, output, frame) is not var (path, _))
                    {
                        continue;
                    }

                    try
                    {
                        Probe(path, output, x, y, found, memory, cancel);
                    }
                    catch (Exception e)
                        when (e is ImageException or IOException or UnauthorizedAccessException or InsufficientMemoryException)
                    {
                        // A file that cannot be read has its finding on the Check station; the probe shows the others.
                    }
                }

                return found;
            },
            cancel
        );

    /// <summary>A picture as PNG, made when it is its turn.</summary>
    /// <param name="pixels">Pixels that it has.</param>
    /// <param name="make">Makes it.</param>
    /// <param name="width">Width to shrink to, or 0.</param>
    /// <param name="cancel">Leaves.</param>
    /// <param name="isPacked">Whether its bytes are to be few, not its time.</param>
    /// <exception cref="PicturesBusyException">Too many wait.</exception>
    public Task<byte[]> PngAsync(long pixels, Func<Picture> make, int width, CancellationToken cancel, bool isPacked = true) =>
        ReadAsync(
            memory =>
            {
                using IDisposable held = memory(pixels * BytesOfPicture);
                return make().ToPng(width, isPacked);
            },
            cancel
        );

    /// <summary>The samples at one pixel, of each part of an OpenEXR file alone.</summary>
    private void Probe(
        StoragePath path,
        PlannedOutput output,
        int x,
        int y,
        List<(string, IReadOnlyList<(string, float)>)> found,
        Func<long, IDisposable> memory,
        CancellationToken cancel
    )
    {
        void Add(IReadOnlyDictionary<string, float> values)
        {
            foreach (PassPlan pass in output.Passes.Where(p => p.Channels.Keys.Any(values.ContainsKey)))
            {
                found.Add((pass.Pass, [.. pass.Channels.Keys.Where(values.ContainsKey).Select(c => (c, values[c]))]));
            }
        }

        if (IntakeFile.FormatOf(path.Relative) == "exr")
        {
            using ExrFile file = ExrFile.Open(path, _limits.Exr);
            foreach (ExrPart part in file.Parts)
            {
                using IDisposable held = memory(Math.Max(ProbeBytes, file.ReadingBytes(part)));
                Add(Planned(ExrImage.Probe(file, part, x, y), output.Held));
            }

            return;
        }

        string[] channels = [.. output.Passes.SelectMany(p => p.Channels.Keys).Distinct()];
        using PictureLines lines = PictureLines.Open(path, IntakeFile.FormatOf(path.Relative), channels, _limits, output.Held);
        if (lines.Window.Contains(x, y))
        {
            using IDisposable held = memory(lines.ReadingBytes);
            var pixel = PicturePlanes.Read(lines, 1, isMean: false, new PixelBox(x, y, x, y), cancel);
            Add(pixel.Planes.ToDictionary(p => p.Key, p => p.Value[0]));
        }
    }

    /// <summary>Samples under the names that the plan gives the channels of the one pass of a file.</summary>
    private static IReadOnlyDictionary<string, float> Planned(IReadOnlyDictionary<string, float> stored, HeldPass? held) =>
        held is null ? stored : held.Match([.. stored.Keys]).ToDictionary(m => m.Planned, m => stored[m.Stored]);

    private RebuildPixels Sum(
        RebuildRecipe recipe,
        ImmutableArray<double> weights,
        ImmutableArray<(StoragePath, ImmutableArray<string>, HeldPass?)> files,
        Func<long, IDisposable> memory,
        CancellationToken stop
    )
    {
        using RebuildLines lines = RebuildLines.Open(recipe, files, _limits);
        int shrink = Shrink(lines.Window, 0, MostRebuilt);
        using IDisposable held = memory(lines.ReadingBytes + PicturePlanes.BytesOf(lines.Window, shrink, 8));
        return RebuildPixels.Compute(recipe, lines, shrink, weights, stop);
    }

    /// <summary>
    /// How many pixels one sample stands for, so that a picture fits the bound, and a small one is not read larger than twice the width it
    /// is shown at.
    /// </summary>
    private static int Shrink(PixelBox window, int width, long most = MostPixels)
    {
        int shrink = width > 0 ? (int)Math.Max(1, window.Width / (2L * width)) : 1;
        while ((long)PicturePlanes.Across(window.Width, shrink) * PicturePlanes.Across(window.Height, shrink) > most)
        {
            shrink++;
        }

        return shrink;
    }

    /// <summary>Asks the disk beside the request, within a bound on time.</summary>
    private static Task<T> AtAsync<T>(Func<T> ask, CancellationToken cancel) => Task.Run(ask, cancel).WaitAsync(Patience, cancel);

    /// <summary>Reads when it is its turn; the function takes memory and waits for it.</summary>
    public async Task<T> ReadAsync<T>(Func<Func<long, IDisposable>, T> read, CancellationToken stop)
    {
        if (Interlocked.Increment(ref _waiting) > MostWaiting)
        {
            Interlocked.Decrement(ref _waiting);
            throw new PicturesBusyException();
        }

        try
        {
            await _readers.WaitAsync(stop);
        }
        finally
        {
            Interlocked.Decrement(ref _waiting);
        }

        try
        {
            using var timed = CancellationTokenSource.CreateLinkedTokenSource(stop);
            timed.CancelAfter(Patience);
            return await Task.Run(() => read(bytes => _limits.Memory.Take(bytes, timed.Token)), CancellationToken.None);
        }
        catch (InsufficientMemoryException e)
        {
            throw new ImageException("", 0, e.Message);
        }
        finally
        {
            _readers.Release();
        }
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        _planes.Dispose();
        _headers.Dispose();
        _mattes.Dispose();
        _rebuilds.Dispose();
        _readers.Dispose();
    }
}

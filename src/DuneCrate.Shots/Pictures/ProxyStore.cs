using System.Globalization;
using System.IO.Hashing;
using System.Text;
using DuneCrate.Exr;
using DuneCrate.Foundation.Time;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Store.Keeping;
using Microsoft.Extensions.Options;

namespace DuneCrate.Shots.Pictures;

/// <summary>
/// Small pictures that were made of passes, kept on disk within a bound: playing, sheets and comparing read them instead of the large
/// files. One of each state of a file, so that an earlier render can still be looked at. What was not asked for longest goes first; all of
/// it can be made anew. Safe to call from several threads.
/// </summary>
public sealed class ProxyStore
{
    /// <summary>Samples across that a proxy has at least, where the picture has as many.</summary>
    public const int Side = 960;

    private const string Extension = ".planes";
    private const long MostPlanes = 256L << 20;
    private const double SweptTo = 0.9;
    private static readonly TimeSpan UseStep = TimeSpan.FromHours(1);

    private readonly DirectoryInfo _folder;
    private readonly long _most;
    private readonly TimeProvider _clock;
    private readonly ILogger _log;
    private readonly Lock _lock = new();
    private long _bytes = -1;

    /// <summary>Keeps them in the data folder.</summary>
    /// <param name="data">The data folder.</param>
    /// <param name="settings">How many bytes are kept.</param>
    /// <param name="clock">Tells when a proxy was used last.</param>
    /// <param name="log">Told what the disk refuses.</param>
    public ProxyStore(DataFolder data, IOptions<LookSettings> settings, TimeProvider clock, ILogger<ProxyStore> log)
    {
        _folder = data.Private("proxies");
        (_clock, _log) = (clock, log);
        _most = settings.Value.ProxyBytes;
    }

    /// <summary>How many pixels a sample of a proxy stands for, across and down.</summary>
    public static int Shrink(PixelBox window) => (int)Math.Max(1, window.Width / Side);

    /// <summary>Bytes on disk.</summary>
    public long Bytes
    {
        get
        {
            lock (_lock)
            {
                if (_bytes < 0)
                {
                    _bytes = Everything().Sum(f => f.Length);
                }

                return _bytes;
            }
        }
    }

    /// <summary>Whether one of a pass of a file as it is now would be made anew: there is none, and some are kept.</summary>
    public bool Lacks(SeenFile seen) => _most > 0 && seen.Kept is null && !File.Exists(PathOf(seen));

    /// <summary>The proxy of a pass of a file, as it is now or as it was; null when there is none.</summary>
    public PicturePlanes? Read(SeenFile seen)
    {
        var file = new FileInfo(seen.Kept ?? PathOf(seen));
        try
        {
            if (!file.Exists)
            {
                return null;
            }

            if (_clock.UtcNow - file.LastWriteTimeUtc > UseStep)
            {
                file.LastWriteTimeUtc = _clock.UtcNow;
            }

            using FileStream from = file.OpenRead();
            return PlanesFile.Read(from, MostPlanes);
        }
        catch (InvalidDataException)
        {
            // It is made anew.
            file.Delete();
            return null;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            _log.LogWarning("A proxy cannot be read: {Reason}", e.Message);
            return null;
        }
    }

    /// <summary>Keeps a proxy; what the disk refuses is left out.</summary>
    /// <returns>The proxy as it will be read.</returns>
    public PicturePlanes Keep(SeenFile seen, PicturePlanes made)
    {
        PicturePlanes planes = PlanesFile.AsKept(made, seen.IsMean);
        if (!Lacks(seen))
        {
            return planes;
        }

        string path = PathOf(seen),
            partial = $"{path}.{Guid.NewGuid():n}";
        try
        {
            _ = Bytes; // What is there is counted before there is more.
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            try
            {
                using (FileStream to = File.Create(partial))
                {
                    PlanesFile.Write(to, planes, seen.IsMean);
                }

                File.Move(partial, path, overwrite: true);
            }
            finally
            {
                File.Delete(partial);
            }

            Count(new FileInfo(path).Length);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            _log.LogWarning("A proxy cannot be kept: {Reason}", e.Message);
        }

        return planes;
    }

    /// <summary>The file of the newest proxy of a pass from before a moment; null when none was kept.</summary>
    /// <param name="seen">The pass.</param>
    /// <param name="moment">When, UTC.</param>
    public string? Before(SeenFile seen, DateTime moment)
    {
        string folder = FolderOf(seen);
        return Directory.Exists(folder)
            ? Directory
                .EnumerateFiles(folder, "*" + Extension)
                .Select(f => (File: f, Ticks: TicksOf(f)))
                .Where(f => f.Ticks <= moment.Ticks)
                .OrderByDescending(f => f.Ticks)
                .Select(f => f.File)
                .FirstOrDefault()
            : null;
    }

    /// <summary>Counts what came; when it is too much, what was not asked for longest goes until there is room.</summary>
    private void Count(long length)
    {
        lock (_lock)
        {
            _bytes += length;
            if (_bytes <= _most)
            {
                return;
            }

            _bytes = 0;
            foreach (FileInfo file in Everything().OrderByDescending(f => f.LastWriteTimeUtc))
            {
                if (_bytes + file.Length > _most * SweptTo)
                {
                    file.Delete();
                }
                else
                {
                    _bytes += file.Length;
                }
            }
        }
    }

    private IEnumerable<FileInfo> Everything() => _folder.EnumerateFiles("*" + Extension, SearchOption.AllDirectories);

    private static long TicksOf(string file) =>
        long.TryParse(Path.GetFileName(file)[..16], NumberStyles.HexNumber, CultureInfo.InvariantCulture, out long ticks)
            ? ticks
            : long.MaxValue;

    /// <summary>A folder for the states of a pass of a file.</summary>
    private string FolderOf(SeenFile seen)
    {
        string name = Hash($"{seen.Path.FullPath}|{seen.Key}");
        return Path.Combine(_folder.FullName, name[..2], name);
    }

    /// <summary>One state: when the file was last changed, and all that the file system says of it.</summary>
    private string PathOf(SeenFile seen) =>
        Path.Combine(FolderOf(seen), $"{seen.Stamp.ModifiedTicks:x16}-{Hash(seen.Stamp.ToString())}{Extension}");

    private static string Hash(string text) =>
        XxHash128.HashToUInt128(Encoding.UTF8.GetBytes(text)).ToString("x32", CultureInfo.InvariantCulture);
}

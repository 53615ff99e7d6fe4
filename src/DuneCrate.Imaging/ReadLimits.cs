using System.Globalization;
using DuneCrate.Exr;
using DuneCrate.Imaging.Rasters;

namespace DuneCrate.Imaging;

/// <summary>Bounds on what files may claim and cost, so that no file can hold up a run or the machine. Set in configuration.</summary>
public sealed record ReadLimits
{
    private const long UsualMemory = 768L << 20;

    /// <summary>The limits used unless others are given.</summary>
    public static readonly ReadLimits Default = new();

    /// <summary>Bounds on OpenEXR files.</summary>
    public ExrLimits Exr { get; init; } = ExrLimits.Default;

    /// <summary>Bounds on other pictures.</summary>
    public RasterLimits Rasters { get; init; } = RasterLimits.Default;

    /// <summary>Seconds after which reading a file is given up.</summary>
    public double SecondsPerFile { get; init; } = 120;

    /// <summary>Memory that everything read under these limits takes together.</summary>
    public MemoryGate Memory { get; init; } = new(UsualMemory);

    /// <summary>
    /// These limits with those that a configuration names: MaxHeaderBytes, MaxParts, MaxAttributes, MaxChannels, MaxPixels, MaxWidth,
    /// MaxChunkBytes, MaxExpansion, SecondsPerFile, MaxMemory.
    /// </summary>
    /// <param name="setting">The text of a name, or null when it is not set.</param>
    /// <exception cref="FormatException">A setting is no number above 0; the message says which.</exception>
    public ReadLimits With(Func<string, string?> setting)
    {
        double Number(string name, double otherwise, double most = long.MaxValue) =>
            setting(name) is not { Length: > 0 } text ? otherwise
            : double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double value) && value > 0 && value <= most
                ? value
            : throw new FormatException(
                $"The limit {name} is '{text}'; write a number above 0{(most < long.MaxValue ? $" and at most {most:0}" : "")}."
            );
        int Whole(string name, int otherwise) => (int)Math.Max(1, Number(name, otherwise, int.MaxValue));
        long Large(string name, long otherwise) => (long)Math.Clamp(Number(name, otherwise), 1, long.MaxValue / 2);
        return this with
        {
            SecondsPerFile = Number(nameof(SecondsPerFile), SecondsPerFile, 86400),
            Memory = setting("MaxMemory") is { Length: > 0 } ? new MemoryGate(Large("MaxMemory", Memory.Total)) : Memory,
            Exr = Exr with
            {
                MaxHeaderBytes = Whole(nameof(ExrLimits.MaxHeaderBytes), Exr.MaxHeaderBytes),
                MaxParts = Whole(nameof(ExrLimits.MaxParts), Exr.MaxParts),
                MaxAttributes = Whole(nameof(ExrLimits.MaxAttributes), Exr.MaxAttributes),
                MaxChannels = Whole(nameof(ExrLimits.MaxChannels), Exr.MaxChannels),
                MaxPixels = Large(nameof(ExrLimits.MaxPixels), Exr.MaxPixels),
                MaxChunkBytes = Math.Min(int.MaxValue, Large(nameof(ExrLimits.MaxChunkBytes), Exr.MaxChunkBytes)),
                MaxExpansion = Whole(nameof(ExrLimits.MaxExpansion), Exr.MaxExpansion),
            },
            Rasters = Rasters with
            {
                MaxPixels = Large(nameof(ExrLimits.MaxPixels), Rasters.MaxPixels),
                MaxWidth = Whole(nameof(RasterLimits.MaxWidth), Rasters.MaxWidth),
                MaxExpansion = Whole(nameof(RasterLimits.MaxExpansion), Rasters.MaxExpansion),
                MaxHeldBytes = Large(nameof(ExrLimits.MaxChunkBytes), Rasters.MaxHeldBytes),
            },
        };
    }
}

using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Images.Rasters;

namespace DuneCrate.Core.Intake;

/// <summary>Bounds on what files may claim and cost, so that no file can hold up a run or the machine. Set in configuration.</summary>
public sealed record ReadLimits
{
    /// <summary>The limits used unless others are given.</summary>
    public static readonly ReadLimits Default = new();

    /// <summary>Bounds on OpenEXR files.</summary>
    public ExrLimits Exr { get; init; } = ExrLimits.Default;

    /// <summary>Bounds on other pictures.</summary>
    public RasterLimits Rasters { get; init; } = RasterLimits.Default;

    /// <summary>Seconds after which reading a file is given up.</summary>
    public double SecondsPerFile { get; init; } = 600;

    /// <summary>These limits with those that a configuration names: MaxHeaderBytes, MaxParts, MaxAttributes, MaxChannels, MaxPixels, MaxWidth, MaxChunkBytes, MaxExpansion, SecondsPerFile.</summary>
    /// <param name="setting">The text of a name, or null when it is not set.</param>
    /// <exception cref="FormatException">A setting is no number above 0; the message says which.</exception>
    public ReadLimits With(Func<string, string?> setting)
    {
        double Number(string name, double otherwise, double most = long.MaxValue) => setting(name) is not { Length: > 0 } text ? otherwise
            : double.TryParse(text, System.Globalization.CultureInfo.InvariantCulture, out double value) && value > 0 && value <= most ? value
            : throw new FormatException($"The limit {name} is '{text}'; write a number above 0{(most < long.MaxValue ? $" and at most {most:0}" : "")}.");
        return this with
        {
            SecondsPerFile = Number(nameof(SecondsPerFile), SecondsPerFile, 86400),
            Exr = Exr with
            {
                MaxHeaderBytes = (int)Number(nameof(ExrLimits.MaxHeaderBytes), Exr.MaxHeaderBytes, int.MaxValue),
                MaxParts = (int)Number(nameof(ExrLimits.MaxParts), Exr.MaxParts, int.MaxValue),
                MaxAttributes = (int)Number(nameof(ExrLimits.MaxAttributes), Exr.MaxAttributes, int.MaxValue),
                MaxChannels = (int)Number(nameof(ExrLimits.MaxChannels), Exr.MaxChannels, int.MaxValue),
                MaxPixels = (long)Number(nameof(ExrLimits.MaxPixels), Exr.MaxPixels),
                MaxChunkBytes = (long)Number(nameof(ExrLimits.MaxChunkBytes), Exr.MaxChunkBytes),
                MaxExpansion = (int)Number(nameof(ExrLimits.MaxExpansion), Exr.MaxExpansion, int.MaxValue),
            },
            Rasters = Rasters with
            {
                MaxPixels = (long)Number(nameof(ExrLimits.MaxPixels), Rasters.MaxPixels),
                MaxWidth = (int)Number(nameof(RasterLimits.MaxWidth), Rasters.MaxWidth, int.MaxValue),
            },
        };
    }
}

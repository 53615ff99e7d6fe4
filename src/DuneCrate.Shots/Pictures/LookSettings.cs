using System.ComponentModel.DataAnnotations;

namespace DuneCrate.Shots.Pictures;

/// <summary>How pictures are looked at: the section Looking of the configuration.</summary>
public sealed class LookSettings
{
    /// <summary>Name of the section.</summary>
    public const string Section = "Looking";

    /// <summary>Bytes of small pictures that are kept on disk; 0 for none.</summary>
    [Range(0, long.MaxValue, ErrorMessage = "is a number of bytes, 0 to keep none")]
    public long ProxyBytes { get; set; } = 4L << 30;
}

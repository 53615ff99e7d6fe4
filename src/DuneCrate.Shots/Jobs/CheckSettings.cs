using System.ComponentModel.DataAnnotations;

namespace DuneCrate.Shots.Jobs;

/// <summary>How checks work: the section Checks of the configuration.</summary>
public sealed class CheckSettings
{
    /// <summary>Name of the section.</summary>
    public const string Section = "Checks";

    /// <summary>Threads of checks and seals.</summary>
    [Range(1, 1024, ErrorMessage = "is a number of threads from 1 to 1024")]
    public int Threads { get; set; } = Environment.ProcessorCount;
}

namespace DuneCrate.Web.Operations;

/// <summary>What is logged, and how: the section Logs of the configuration.</summary>
internal sealed class LogSettings
{
    /// <summary>Name of the section.</summary>
    public const string Section = "Logs";

    /// <summary>Whether lines are JSON.</summary>
    public bool Json { get; set; }

    /// <summary>Whether it is written down who asked for what.</summary>
    public bool Access { get; set; }
}

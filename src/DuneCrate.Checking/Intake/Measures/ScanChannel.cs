using DuneCrate.Foundation.Passes;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>One channel of what is scanned.</summary>
/// <param name="Name">Full name.</param>
/// <param name="Type">Sample type.</param>
/// <param name="Pass">The pass it belongs to by name, or null.</param>
internal sealed record ScanChannel(string Name, ChannelType Type, string? Pass)
{
    /// <summary>What follows the last dot.</summary>
    public string Last => ChannelNames.LastOf(Name);
}

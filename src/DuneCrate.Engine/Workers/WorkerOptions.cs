using DuneCrate.Imaging;

namespace DuneCrate.Engine.Workers;

/// <summary>What a worker reads, and how much at once.</summary>
/// <param name="Engine">The engine.</param>
/// <param name="Roots">Folders by the names that servers give them.</param>
/// <param name="Threads">Files read at once.</param>
/// <param name="Site">The only site that it works for; null for all.</param>
/// <param name="Limits">Bounds on what files may claim and cost.</param>
public sealed record WorkerOptions(
    EngineOptions Engine,
    IReadOnlyDictionary<string, string> Roots,
    int Threads,
    string? Site,
    ReadLimits Limits
)
{
    /// <summary>
    /// How much longer than <see cref="ReadLimits.SecondsPerFile"/> a read may be silent before it counts as one that hangs in the file
    /// system, and the work is left to other machines.
    /// </summary>
    public TimeSpan OverTime { get; init; } = TimeSpan.FromSeconds(30);
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace DuneCrate.Engine.Messages;

/// <summary>What a worker says of itself, every two seconds.</summary>
/// <param name="Worker">Its name: the machine's and a few digits.</param>
/// <param name="Machine">The machine's name.</param>
/// <param name="Roots">Roots that it has mounted.</param>
/// <param name="Threads">Files that it reads at once.</param>
/// <param name="Reading">What it reads now: root and path.</param>
/// <param name="Files">Files that it has read.</param>
/// <param name="FilesPerMinute">Files of the last minute.</param>
/// <param name="IsLeaving">Whether it takes no more work.</param>
public sealed record WorkerNews(
    string Worker,
    string Machine,
    ImmutableArray<string> Roots,
    int Threads,
    ImmutableArray<string> Reading,
    long Files,
    int FilesPerMinute,
    bool IsLeaving
)
{
    private const int MostName = 200,
        MostRoots = 1_000,
        MostThreads = 4_096;

    /// <summary>Whether a worker can say so of itself.</summary>
    [JsonIgnore]
    public bool IsPossible =>
        Worker.Length is > 0 and <= MostName
        && Machine.Length <= MostName
        && Threads is > 0 and <= MostThreads
        && Files >= 0
        && FilesPerMinute >= 0
        && Roots.Length <= MostRoots
        && Roots.All(r => r.Length <= MostName)
        && Reading.Length <= MostThreads;
}

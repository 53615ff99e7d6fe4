using System.Collections.Immutable;

namespace DuneCrate.Shots.Jobs;

/// <summary>
/// Pieces of work that wait or run, by the id of what they work on. Several may be asked for on the same thing: each ends for itself, so
/// that what still waits is never
/// taken for done. Safe to use from any thread.
/// </summary>
public class RunningJobs
{
    private ImmutableDictionary<int, ImmutableArray<JobProgress>> _all = ImmutableDictionary<int, ImmutableArray<JobProgress>>.Empty;

    /// <summary>What waits or runs at this moment: of each thing the piece of work that was asked for first.</summary>
    public ImmutableDictionary<int, JobProgress> Now => Volatile.Read(ref _all).ToImmutableDictionary(a => a.Key, a => a.Value[0]);

    /// <summary>What waits or runs on a thing, the first asked for first.</summary>
    public ImmutableArray<JobProgress> ForShot(int id) => Volatile.Read(ref _all).GetValueOrDefault(id, []);

    /// <summary>Adds a piece of work; it ends when the answer is disposed.</summary>
    public IDisposable Begin(int id, JobProgress progress)
    {
        ImmutableInterlocked.AddOrUpdate(ref _all, id, [progress], (_, before) => before.Add(progress));
        return new Ending(this, id, progress);
    }

    private void End(int id, JobProgress progress) =>
        ImmutableInterlocked.Update(
            ref _all,
            all =>
                !all.TryGetValue(id, out ImmutableArray<JobProgress> before) ? all
                : before.Remove(progress) is { IsEmpty: false } rest ? all.SetItem(id, rest)
                : all.Remove(id)
        );

    private sealed class Ending(RunningJobs work, int id, JobProgress progress) : IDisposable
    {
        public void Dispose() => work.End(id, progress);
    }
}

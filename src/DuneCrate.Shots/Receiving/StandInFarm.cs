using System.Collections.Immutable;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Live;
using DuneCrate.StandIns.Farm;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Receiving;

/// <summary>
/// The stand-in farm at work for shots: its frames land in the shot's folder, and when an order is done they are checked by themselves.
/// Only the demo has it: on real folders made-up
/// frames would do harm.
/// </summary>
public sealed class StandInFarm : IDisposable
{
    private readonly FarmQueue _queue = new();
    private readonly ShowStore _store;
    private readonly CheckQueue _checks;
    private readonly ShotEvents _events;
    private readonly ILogger<StandInFarm> _log;
    private ImmutableDictionary<int, int> _shots = ImmutableDictionary<int, int>.Empty;

    public StandInFarm(ServeOptions options, ShowStore store, CheckQueue checks, ShotEvents events, ILogger<StandInFarm> log)
    {
        (IsThere, _store, _checks, _events, _log) = (options.HasFarm, store, checks, events, log);
        _queue.Changed += job => _ = TellAsync(job);
    }

    /// <summary>Whether there is a farm.</summary>
    public bool IsThere { get; }

    /// <summary>The jobs of a shot, newest first.</summary>
    public IReadOnlyList<FarmJob> Jobs(int shotId) => [.. _queue.Jobs.Where(j => _shots.GetValueOrDefault(j.Id) == shotId).Reverse()];

    /// <summary>Sends an order.</summary>
    /// <exception cref="ArgumentException">It is larger than the farm takes; the message says how large it may be.</exception>
    public FarmJob Send(
        ShotRow shot,
        Plan plan,
        StoragePath folder,
        ImmutableArray<RerunPortion> portions,
        ImmutableArray<Fault> faults,
        double secondsPerFrame
    )
    {
        FarmJob job = _queue.Add(new FarmOrder(shot.Code, plan, folder, portions, faults, secondsPerFrame));
        ImmutableInterlocked.TryAdd(ref _shots, job.Id, shot.Id);
        return job;
    }

    /// <summary>Pauses, resumes, cancels a job or makes it fail.</summary>
    public void Tell(int shotId, int job, string what)
    {
        if (_shots.GetValueOrDefault(job) != shotId)
        {
            return;
        }

        switch (what)
        {
            case "pause":
                _queue.Pause(job);
                break;
            case "resume":
                _queue.Resume(job);
                break;
            case "cancel":
                _queue.Cancel(job);
                break;
            case "fail":
                _queue.Fail(job);
                break;
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _queue.Dispose();

    private async Task TellAsync(FarmJob job)
    {
        if (!_shots.TryGetValue(job.Id, out int shot))
        {
            return;
        }

        _events.Tell(
            shot,
            "farm",
            new
            {
                job.Id,
                job.Done,
                job.Total,
                state = Words.Choice(job.State),
            }
        );
        if (job.State != FarmState.Done)
        {
            return;
        }

        await Background.DoAsync(
            _log,
            "have the farm's frames checked",
            async () =>
            {
                await _store.NoteAsync(shot, $"the farm rendered {job.Total} layer frames");
                await _checks.AskAsync(shot, pixels: true);
                _events.Tell(shot, "check", new { asked = true });
            },
            default
        );
    }
}

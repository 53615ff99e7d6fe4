using System.Collections.Immutable;
using System.Diagnostics;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.StandIns.Farm;

/// <summary>
/// The stand-in for a render farm: takes orders, renders them one after the other in the background, frame by frame across the layers, and
/// can be paused, cancelled and made to
/// fail. Safe to call from several threads.
/// </summary>
public sealed class FarmQueue : IDisposable
{
    private readonly Lock _lock = new();
    private readonly CancellationTokenSource _closing = new();
    private readonly ManualResetEventSlim _changed = new(false);
    private readonly Thread _machine;
    private ImmutableSortedDictionary<int, FarmJob> _jobs = ImmutableSortedDictionary<int, FarmJob>.Empty;

    /// <summary>Opens the queue; its machine starts at once.</summary>
    public FarmQueue()
    {
        _machine = new Thread(Work) { IsBackground = true, Name = "stand-in farm" };
        _machine.Start();
    }

    /// <summary>Told after every frame and every change of a job.</summary>
    public event Action<FarmJob>? Changed;

    /// <summary>All jobs, oldest first.</summary>
    public ImmutableArray<FarmJob> Jobs
    {
        get
        {
            lock (_lock)
            {
                return [.. _jobs.Values];
            }
        }
    }

    /// <summary>Takes an order.</summary>
    /// <exception cref="ArgumentException">It is larger than the farm takes.</exception>
    public FarmJob Add(FarmOrder order)
    {
        if (order.Problem is { } problem)
        {
            throw new ArgumentException(problem);
        }

        lock (_lock)
        {
            int id = _jobs.IsEmpty ? 1 : _jobs.Keys.Last() + 1;
            return Put(new FarmJob(id, order, FarmState.Waiting, 0, "waiting for its turn"));
        }
    }

    /// <summary>Holds a job back after the frame that is being rendered.</summary>
    public void Pause(int id) =>
        Set(id, j => j.State is FarmState.Waiting or FarmState.Rendering ? j with { State = FarmState.Paused, Description = "paused" } : j);

    /// <summary>Lets a job go on.</summary>
    public void Resume(int id) =>
        Set(id, j => j.State == FarmState.Paused ? j with { State = FarmState.Waiting, Description = "waiting for its turn" } : j);

    /// <summary>Gives a job up.</summary>
    public void Cancel(int id) =>
        Set(id, j => j.IsOver ? j : j with { State = FarmState.Cancelled, Description = $"cancelled after {j.Done} of {j.Total}" });

    /// <summary>Makes a job fail as a machine would.</summary>
    public void Fail(int id) =>
        Set(
            id,
            j => j.IsOver ? j : j with { State = FarmState.Failed, Description = $"the machine went away after {j.Done} of {j.Total}" }
        );

    /// <summary>Ends the machine after the frame that is being rendered.</summary>
    public void Dispose()
    {
        _closing.Cancel();
        _machine.Join();
        _closing.Dispose();
        _changed.Dispose();
    }

    private void Set(int id, Func<FarmJob, FarmJob> change)
    {
        lock (_lock)
        {
            if (_jobs.TryGetValue(id, out FarmJob? job))
            {
                Put(change(job));
            }
        }
    }

    private FarmJob Put(FarmJob job)
    {
        _jobs = _jobs.SetItem(job.Id, job);
        _changed.Set();
        Changed?.Invoke(job);
        return job;
    }

    private FarmJob? Next()
    {
        lock (_lock)
        {
            return _jobs.Values.FirstOrDefault(j => j.State == FarmState.Rendering)
                ?? _jobs.Values.FirstOrDefault(j => j.State == FarmState.Waiting);
        }
    }

    private void Work()
    {
        try
        {
            while (true)
            {
                _changed.Reset();
                if (Next() is { } job)
                {
                    RenderNext(job);
                }
                else
                {
                    _changed.Wait(_closing.Token);
                }
            }
        }
        catch (OperationCanceledException)
        {
            // The queue is closed; frames that were written stay.
        }
    }

    private void RenderNext(FarmJob job)
    {
        (string layer, int frame) = job.Order.Steps[job.Done];
        Set(
            job.Id,
            j =>
                j.State == FarmState.Waiting
                    ? j with
                    {
                        State = FarmState.Rendering,
                        Description = $"{layer} {frame}",
                    }
                    : j with
                    {
                        Description = j.State == FarmState.Rendering ? $"{layer} {frame}" : j.Description,
                    }
        );
        long start = Stopwatch.GetTimestamp();
        try
        {
            Plan plan = job.Order.Plan;
            StandInRenderer.Render(
                plan with
                {
                    Layers =
                    [
                        .. plan.Layers.Select(l =>
                            l.Name == layer || l.BasedOn is not null || plan.Layers.Any(o => o.BasedOn == l.Name)
                                ? l with
                                {
                                    Off = l.Name != layer,
                                }
                                : l with
                                {
                                    Off = true,
                                }
                        ),
                    ],
                },
                job.Order.Folder,
                FrameSet.Single(frame),
                job.Order.Faults,
                null,
                _closing.Token
            );
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            Set(
                job.Id,
                j =>
                    j with
                    {
                        State = FarmState.Failed,
                        Description = $"{layer} {frame} could not be rendered: {e.GetBaseException().Message}",
                    }
            );
            return;
        }

        TimeSpan left = TimeSpan.FromSeconds(job.Order.SecondsPerFrame) - Stopwatch.GetElapsedTime(start);
        if (left > TimeSpan.Zero)
        {
            _closing.Token.WaitHandle.WaitOne(left);
            _closing.Token.ThrowIfCancellationRequested();
        }

        Set(
            job.Id,
            j =>
                j with
                {
                    Done = j.Done + 1,
                    State = j.State == FarmState.Rendering && j.Done + 1 == j.Total ? FarmState.Done : j.State,
                    Description = j.State == FarmState.Rendering && j.Done + 1 == j.Total ? $"{j.Total} layer frames" : j.Description,
                }
        );
    }
}

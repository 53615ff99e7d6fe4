using System.Collections.Concurrent;
using System.Runtime.InteropServices;
using Microsoft.Extensions.Options;

namespace DuneCrate.Shots.Jobs;

/// <summary>
/// Threads for long work, of lower priority than those that answer pages: whoever opens a page while a check runs does not wait for it,
/// and the check has all that pages leave. What runs here and works in parallel does so on these threads alone.
/// </summary>
public sealed class LowPriorityScheduler : TaskScheduler, IDisposable
{
    /// <summary>How much the system is to prefer others: 0 like them, 19 after all others.</summary>
    private const int Niceness = 10,
        ThisThread = 0;

    private readonly BlockingCollection<Task> _tasks = [];

    [ThreadStatic]
    private static LowPriorityScheduler? _own;

    /// <summary>
    /// Starts as many threads as the configuration says (Checks:Threads); as there are cores without. With an engine there are some more,
    /// which only wait for it.
    /// </summary>
    public LowPriorityScheduler(IOptions<CheckSettings> settings, ServeOptions? options = null)
    {
        int waiting = options?.Engine is null ? 0 : ServeOptions.ChecksWithEngine;
        MaximumConcurrencyLevel = Math.Min(settings.Value.Threads, 4 * Environment.ProcessorCount);
        for (int i = 0; i < MaximumConcurrencyLevel + waiting; i++)
        {
            new Thread(Work) { IsBackground = true, Name = $"low priority {i}" }.Start();
        }
    }

    /// <inheritdoc/>
    public override int MaximumConcurrencyLevel { get; }

    /// <summary>Does work on these threads.</summary>
    public Task<T> DoAsync<T>(Func<T> work) =>
        Task.Factory.StartNew(work, CancellationToken.None, TaskCreationOptions.DenyChildAttach, this);

    /// <inheritdoc/>
    protected override void QueueTask(Task task) => _tasks.Add(task);

    /// <inheritdoc/>
    /// <remarks>
    /// Whoever waits here for a task that is still in the queue does it himself: with every thread taken nobody else ever would. Its place
    /// in the queue is passed over later, as a task runs once.
    /// </remarks>
    protected override bool TryExecuteTaskInline(Task task, bool taskWasPreviouslyQueued) => _own == this && TryExecuteTask(task);

    /// <inheritdoc/>
    protected override IEnumerable<Task> GetScheduledTasks() => [.. _tasks];

    /// <summary>Ends the threads once they have nothing to do.</summary>
    public void Dispose() => _tasks.CompleteAdding();

    private void Work()
    {
        _own = this;

        // On Linux a priority is that of one thread; where it is refused the work is done all the same.
        _ = setpriority(0, ThisThread, Niceness);
        foreach (Task task in _tasks.GetConsumingEnumerable())
        {
            TryExecuteTask(task);
        }
    }

    /// <summary>Source: getpriority(2), "C library/kernel differences".</summary>
    [DllImport("libc")]
    private static extern int setpriority(int which, uint who, int priority);
}

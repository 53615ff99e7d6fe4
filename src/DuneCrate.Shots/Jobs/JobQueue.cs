using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Threading.Channels;
using DuneCrate.Store;

namespace DuneCrate.Shots.Jobs;

/// <summary>
/// A queue of long work, done one piece after the other beside the pages, or a few at once where others do the work.
/// Each piece can be stopped from the moment it is put in, whether
/// it waits, is about to begin or runs. The same thing
/// asked for while it still waits is done once. An end that cannot be noted, such as on a full disk, is noted later and holds nothing up.
/// </summary>
public abstract class JobQueue(RunningJobs live, ILogger log, int concurrency = 1) : BackgroundService
{
    private static readonly TimeSpan NoteAgainAfter = TimeSpan.FromSeconds(5);

    private readonly Channel<Piece> _waiting = Channel.CreateUnbounded<Piece>();
    private readonly ConcurrentDictionary<string, Piece> _notBegun = new();
    private readonly ConcurrentQueue<(string What, Func<CancellationToken, Task> Note)> _unnoted = new();
    private readonly SemaphoreSlim _asking = new(1, 1);

    /// <summary>What waits or runs, by the key of what it works on.</summary>
    public ImmutableDictionary<int, JobProgress> Live => live.Now;

    /// <summary>A piece of work.</summary>
    /// <param name="Id">Key of what it works on.</param>
    /// <param name="Same">Equal for pieces of which one is enough.</param>
    /// <param name="What">What it is, for the log.</param>
    /// <param name="Progress">Its progress.</param>
    /// <param name="Run">Does it; the token is cancelled by a stop and by the application's end.</param>
    private sealed record Piece(int Id, string Same, string What, JobProgress Progress, Func<JobProgress, CancellationToken, Task> Run)
    {
        public IDisposable? Live { get; set; }
    }

    /// <summary>Puts work in, unless the same waits already.</summary>
    /// <param name="same">Equal for pieces of which one is enough.</param>
    /// <param name="prepare">Notes that it was asked for and gives its key.</param>
    /// <param name="what">What it is, for the log.</param>
    /// <param name="run">Does it, given its key.</param>
    /// <returns>The key of the piece that waits.</returns>
    protected async Task<int> AskAsync(
        string same,
        Func<Task<int>> prepare,
        string what,
        Func<int, JobProgress, CancellationToken, Task> run
    )
    {
        await _asking.WaitAsync();
        try
        {
            if (_notBegun.TryGetValue(same, out Piece? waiting) && !waiting.Progress.Stopped.IsCancellationRequested)
            {
                return waiting.Id;
            }

            int id = await prepare();
            Put(id, same, what, (progress, stop) => run(id, progress, stop));
            return id;
        }
        finally
        {
            _asking.Release();
        }
    }

    /// <summary>Puts work in that was asked for before.</summary>
    protected void Put(int id, string same, string what, Func<JobProgress, CancellationToken, Task> run)
    {
        var piece = new Piece(id, same, what, new JobProgress { Doing = "waiting for its turn" }, run);
        piece.Live = live.Begin(id, piece.Progress);
        _notBegun[same] = piece;
        _waiting.Writer.TryWrite(piece);
    }

    /// <summary>Stops everything that waits or runs on a thing.</summary>
    public void Stop(int id)
    {
        foreach (JobProgress progress in live.ForShot(id))
        {
            progress.Stop();
        }
    }

    /// <summary>Puts everything off that waits or runs on a thing; what cannot be put off goes on.</summary>
    public void Pause(int id)
    {
        foreach (JobProgress progress in live.ForShot(id))
        {
            progress.Pause();
        }
    }

    /// <summary>Takes up what was waiting or running when the application last ended.</summary>
    protected abstract Task TakeUpAsync(CancellationToken ending);

    /// <summary>Notes that work failed, in words, unless its end was noted already.</summary>
    /// <param name="id">Key of what was worked on.</param>
    /// <param name="cancel">Stops.</param>
    protected abstract Task FailAsync(int id, CancellationToken cancel);

    /// <summary>
    /// Notes the end of work. When the disk refuses it is tried again until it is done or the application ends; anything else that keeps it
    /// from being noted is thrown, and ends the work as a failed one.
    /// </summary>
    protected async Task NoteAsync(string what, Func<CancellationToken, Task> note)
    {
        try
        {
            await note(CancellationToken.None);
        }
        catch (Exception e) when (StoreFile.IsDisk(e))
        {
            log.LogError(e, "Could not {What}; it is tried again", what);
            _unnoted.Enqueue((what, note));
        }
    }

    /// <inheritdoc/>
    protected sealed override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
        await Background.DoAsync(log, "take up what was left", () => TakeUpAsync(stoppingToken), stoppingToken);
        Task notes = NoteAgainAsync(stoppingToken);
        await Task.WhenAll(Enumerable.Range(0, concurrency).Select(_ => WorkAsync(stoppingToken)));
        await notes;
    }

    private async Task WorkAsync(CancellationToken ending)
    {
        await foreach (Piece piece in _waiting.Reader.ReadAllAsync(ending))
        {
            _notBegun.TryRemove(KeyValuePair.Create(piece.Same, piece));
            using CancellationTokenSource stop = CancellationTokenSource.CreateLinkedTokenSource(ending, piece.Progress.Stopped);

            // In this order: a page that finds nothing running takes what is stored for the result, and asks no more.
            using (piece.Live)
            {
                await Background.DoAsync(log, piece.What, () => RunAsync(piece, stop.Token, ending), ending);
            }

            piece.Progress.Changed?.Invoke();
        }
    }

    /// <summary>Does a piece; one that comes to an end that nobody foresaw is noted as failed, so that nobody waits for it.</summary>
    private async Task RunAsync(Piece piece, CancellationToken stop, CancellationToken ending)
    {
        try
        {
            await piece.Run(piece.Progress, stop);
        }
        catch (Exception) when (!ending.IsCancellationRequested)
        {
            await NoteAsync($"note that {piece.What} failed", cancel => FailAsync(piece.Id, cancel));
            throw;
        }
    }

    private async Task NoteAgainAsync(CancellationToken ending)
    {
        using var timer = new PeriodicTimer(NoteAgainAfter);
        while (await timer.WaitForNextTickAsync(ending))
        {
            for (int i = _unnoted.Count; i > 0 && _unnoted.TryDequeue(out var late); i--)
            {
                await Background.DoAsync(log, late.What, () => NoteAsync(late.What, late.Note), ending);
            }
        }
    }
}

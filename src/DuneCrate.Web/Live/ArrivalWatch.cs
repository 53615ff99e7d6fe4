using System.Collections.Concurrent;
using System.Collections.Immutable;
using DuneCrate.Core.Checks;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Planning;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Roots;
using DuneCrate.Web.Shots;
using DuneCrate.Web.Work;

namespace DuneCrate.Web.Live;

/// <summary>What has come of a shot, at a moment.</summary>
/// <param name="Layers">By layer.</param>
/// <param name="First">Findings about the first whole frame of a layer; a layer that is not in it has none yet.</param>
/// <param name="Taken">When, UTC.</param>
public sealed record ArrivalView(ImmutableArray<LayerArrival> Layers, ImmutableDictionary<string, (int Frame, ImmutableArray<Finding> Findings)> First, DateTime Taken);

/// <summary>
/// Watches the folders of shots that somebody looks at, by change notices and by looking every few seconds, since network file systems give none. Only names, sizes and times
/// are read, and once the first whole frame of each layer. Pages are told when something has changed.
/// </summary>
public sealed class ArrivalWatch(ShowStore store, ShotDesk desk, StorageRoots roots, ShotEvents events, IFactsCache facts, ReadLimits limits, ILogger<ArrivalWatch> log) : BackgroundService
{
    private static readonly TimeSpan Pace = TimeSpan.FromSeconds(1), LookAnyway = TimeSpan.FromSeconds(5);

    private readonly ConcurrentDictionary<int, Watched> _watched = new();

    /// <summary>What has come of a shot, looked at now when it is not watched yet.</summary>
    public ArrivalView? Of(ShotRow shot, Plan plan)
    {
        if (roots.Resolve(shot.Root, shot.Folder).Path is not { } folder || !Directory.Exists(folder))
        {
            return null;
        }

        Watched watched = _watched.GetOrAdd(shot.Id, _ => new Watched(folder));
        return watched.Folder == folder && watched.View is { } view && DateTime.UtcNow - view.Taken < LookAnyway ? view : Look(shot, plan, folder, watched);
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Pace);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            foreach (int id in events.Watched)
            {
                await Background.DoAsync(log, $"look at the folder of shot {id}", () => LookAsync(id), stoppingToken);
            }

            foreach ((int id, Watched watched) in _watched.Where(w => !events.IsWatched(w.Key)))
            {
                watched.Dispose();
                _watched.TryRemove(id, out _);
            }
        }
    }

    private async Task LookAsync(int id)
    {
        if (await store.ShotAsync(id) is not { } shot || roots.Resolve(shot.Root, shot.Folder).Path is not { } folder || !Directory.Exists(folder))
        {
            return;
        }

        Watched watched = _watched.GetOrAdd(id, _ => new Watched(folder));
        bool isDue = watched.View is not { } known || watched.TakeNotice() || known.Layers.Any(l => l.Outputs.Any(o => !o.Settling.IsEmpty)) || DateTime.UtcNow - known.Taken >= LookAnyway;
        if (!isDue)
        {
            return;
        }

        string? before = watched.View is null ? null : Text(watched.View);
        ArrivalView view = Look(shot, desk.PlanOf(shot), folder, watched);
        if (Text(view) != before)
        {
            events.Tell(id, "arrival", new { landed = view.Layers.Sum(l => l.Landed), planned = view.Layers.Sum(l => l.Planned) });
        }
    }

    private ArrivalView Look(ShotRow shot, Plan plan, string folder, Watched watched)
    {
        if (watched.Folder != folder)
        {
            watched.Dispose();
            _watched[shot.Id] = watched = new Watched(folder);
        }

        ImmutableArray<LayerArrival> layers = ArrivalBoard.Of(plan, FolderListing.Of(folder), DateTime.UtcNow);
        var first = watched.View?.First ?? ImmutableDictionary<string, (int, ImmutableArray<Finding>)>.Empty;
        (string, int)[] unread =
        [
            .. layers.Where(l => l.FirstWhole is { } frame && !(first.TryGetValue(l.Layer, out var known) && known.Item1 == frame && watched.Revision == shot.Revision))
                .Select(l => (l.Layer, l.FirstWhole!.Value)),
        ];
        watched.View = new ArrivalView(layers, first, DateTime.UtcNow);
        if (unread.Length > 0 && watched.Begin())
        {
            // Pixels are read beside: no page waits for them.
            _ = Background.DoAsync(log, $"read the first frames of {shot.Code}", () => Task.Run(() => ReadFirst(shot, plan, folder, watched, unread)), default);
        }

        return watched.View;
    }

    private void ReadFirst(ShotRow shot, Plan plan, string folder, Watched watched, (string Layer, int Frame)[] unread)
    {
        try
        {
            foreach ((string layer, int frame) in unread)
            {
                ImmutableArray<Finding> findings = FirstFrameCheck.Run(folder, plan, layer, frame, facts, limits);
                watched.View = watched.View! with { First = watched.View.First.SetItem(layer, (frame, findings)) };
            }

            watched.Revision = shot.Revision;
            events.Tell(shot.Id, "arrival", new { first = unread.Length });
        }
        finally
        {
            watched.End();
        }
    }

    private static string Text(ArrivalView view) => string.Join('|', view.Layers.Select(l => $"{l.Layer} {l.Landed} {l.State} {string.Join(',', l.Outputs.Select(o => $"{o.Landed}/{o.Settling}"))} {(view.First.TryGetValue(l.Layer, out var f) ? f.Frame : -1)}"));

    /// <summary>One folder with its notices.</summary>
    private sealed class Watched : IDisposable
    {
        private readonly FileSystemWatcher? _watcher;
        private int _noticed, _reading;

        public Watched(string folder)
        {
            Folder = folder;
            try
            {
                _watcher = new FileSystemWatcher(folder) { IncludeSubdirectories = true, EnableRaisingEvents = true };
                _watcher.Created += Note;
                _watcher.Changed += Note;
                _watcher.Renamed += Note;
                _watcher.Deleted += Note;
            }
            catch (Exception e) when (e is IOException or ArgumentException)
            {
                // No notices to be had: looking every few seconds does.
                _watcher = null;
            }
        }

        public string Folder { get; }

        public ArrivalView? View { get; set; }

        public int Revision { get; set; } = -1;

        /// <summary>Whether the caller may read first frames now; only one does at a time.</summary>
        public bool Begin() => Interlocked.Exchange(ref _reading, 1) == 0;

        public void End() => Interlocked.Exchange(ref _reading, 0);

        public bool TakeNotice() => Interlocked.Exchange(ref _noticed, 0) == 1;

        private void Note(object sender, FileSystemEventArgs e) => Interlocked.Exchange(ref _noticed, 1);

        public void Dispose() => _watcher?.Dispose();
    }
}

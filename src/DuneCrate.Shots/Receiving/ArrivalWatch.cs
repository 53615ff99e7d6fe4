using System.Collections.Concurrent;
using System.Collections.Immutable;
using DuneCrate.Checking;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
using DuneCrate.Imaging.Listing;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Live;
using DuneCrate.Shots.Notifications;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Receiving;

/// <summary>
/// Watches the folders of shots that somebody looks at, by change notices and by looking every few seconds, since network file systems give
/// none. Only names, sizes and times are read, and once the first whole frame of each layer; never while a page waits. Pages are told when
/// something has changed.
/// </summary>
public sealed class ArrivalWatch(
    ShowStore store,
    ShotViews views,
    StorageRoots roots,
    ShotEvents events,
    CheckRequests requests,
    OutboxWriter letters,
    TimeProvider clock,
    ILogger<ArrivalWatch> log
) : BackgroundService
{
    private static readonly TimeSpan Pace = TimeSpan.FromSeconds(1),
        LookAnyway = TimeSpan.FromSeconds(5),
        Forgotten = TimeSpan.FromMinutes(1);

    private readonly ConcurrentDictionary<int, WatchedFolder> _watched = new();

    /// <summary>
    /// What had come of a shot when it was last looked at; null when nobody has looked yet. A look is begun when the last is some seconds
    /// old, and the shot's pages are told of what it
    /// shows.
    /// </summary>
    public ArrivalView? ViewOf(ShotRow shot, StoragePath? folder)
    {
        if (folder is null)
        {
            return null;
        }

        WatchedFolder watched = Watch(shot.Id, folder);
        if (watched.View is not { } view || clock.UtcNow - view.Taken > LookAnyway)
        {
            _ = Background.DoAsync(
                log,
                $"look at the folder of {shot.Code}",
                () => LookAsync(shot.Id, CancellationToken.None),
                CancellationToken.None
            );
        }

        return watched.View;
    }

    /// <summary>Looks at a shot's folder now, because somebody says that files have come.</summary>
    public Task LookNowAsync(ShotRow shot, StoragePath folder)
    {
        WatchedFolder watched = Watch(shot.Id, folder);
        watched.Notice();
        return Background.DoAsync(
            log,
            $"look at the folder of {shot.Code}",
            () => LookAsync(shot.Id, CancellationToken.None),
            CancellationToken.None
        );
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Pace);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            // Whoever is to be told that files stop coming need not have the page open.
            foreach (int id in events.Watched.Concat(_watched.Where(w => IsArriving(w.Value)).Select(w => w.Key)).Distinct())
            {
                // Beside each other: a slow disk under one shot holds up no other.
                _ = Background.DoAsync(log, $"look at the folder of shot {id}", () => LookAsync(id, stoppingToken), stoppingToken);
            }

            foreach ((int id, WatchedFolder watched) in _watched)
            {
                if (
                    !events.IsWatched(id)
                    && !IsArriving(watched)
                    && watched.IsIdleFor(Forgotten)
                    && _watched.TryRemove(KeyValuePair.Create(id, watched))
                )
                {
                    watched.Dispose();
                }
            }
        }
    }

    /// <inheritdoc/>
    public override void Dispose()
    {
        foreach (WatchedFolder watched in _watched.Values)
        {
            watched.Dispose();
        }

        base.Dispose();
    }

    /// <summary>The watch of a shot; one on another folder than the shot has now is ended.</summary>
    private WatchedFolder Watch(int id, StoragePath folder)
    {
        WatchedFolder watched = _watched.AddOrUpdate(
            id,
            _ => new WatchedFolder(folder, clock),
            (_, known) => known.Folder.Equals(folder) ? known : known.Successor(folder)
        );
        watched.Touch();
        return watched;
    }

    private async Task LookAsync(int id, CancellationToken ending)
    {
        if (await store.ShotAsync(id, ending) is not { } shot || roots.Place(shot.Root, shot.Folder).Path is not { } folder)
        {
            return;
        }

        WatchedFolder watched = Watch(id, folder);
        bool isDue =
            watched.View is not { } known
            || watched.TakeNotice()
            || known.Layers.Any(l => l.Outputs.Any(o => !o.Settling.IsEmpty))
            || clock.UtcNow - known.Taken >= LookAnyway;
        if (isDue && watched.TryBegin())
        {
            try
            {
                await Task.Run(() => Look(shot, views.PlanOf(shot), watched, ending), CancellationToken.None);
            }
            finally
            {
                watched.End();
            }
        }
    }

    private void Look(ShotRow shot, Plan plan, WatchedFolder watched, CancellationToken ending)
    {
        string? before = watched.View is null ? null : Text(watched.View);
        string[] arriving = [.. (watched.View?.Layers ?? []).Where(l => l.State == ArrivalState.Arriving).Select(l => l.Layer)];
        var first = watched.View?.First ?? ImmutableDictionary<string, (int, ImmutableArray<Finding>)>.Empty;
        try
        {
            watched.Listen();
            watched.View = new ArrivalView(
                ArrivalBoard.From(plan, FolderListing.Read(watched.Folder, ending).Files, clock.UtcNow),
                first,
                clock.UtcNow
            );
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            watched.View = new ArrivalView([], first, clock.UtcNow, Failures.Words("The folder cannot be looked at", e));
        }

        if (Text(watched.View) != before)
        {
            events.Tell(
                shot.Id,
                "arrival",
                new { landed = watched.View.Layers.Sum(l => l.Landed), planned = watched.View.Layers.Sum(l => l.Planned) }
            );
        }

        foreach (LayerArrival layer in watched.View.Layers.Where(l => l.State == ArrivalState.Stalled && arriving.Contains(l.Layer)))
        {
            _ = letters.TellAsync(
                EventDocument.About(
                    shot,
                    NotificationKinds.LayerStalled,
                    clock.UtcNow,
                    $"files of {layer.Layer} stopped coming, {layer.Landed} of {layer.Planned} are there"
                ) with
                {
                    Counts = new Dictionary<string, long> { ["landed"] = layer.Landed, ["planned"] = layer.Planned },
                },
                "receive"
            );
        }

        ReadFirst(shot, plan, watched, ending);
    }

    private static bool IsArriving(WatchedFolder watched) => watched.View?.Layers.Any(l => l.State == ArrivalState.Arriving) == true;

    /// <summary>Reads the first whole frame of each layer whose first frame is another than the one that was read.</summary>
    private void ReadFirst(ShotRow shot, Plan plan, WatchedFolder watched, CancellationToken ending)
    {
        (string Layer, int Frame)[] unread =
        [
            .. watched
                .View!.Layers.Where(l =>
                    l.FirstWhole is { } frame
                    && !(
                        watched.View.First.TryGetValue(l.Layer, out var known) && known.Frame == frame && watched.Revision == shot.Revision
                    )
                )
                .Select(l => (l.Layer, l.FirstWhole!.Value)),
        ];
        foreach ((string layer, int frame) in unread)
        {
            ImmutableArray<Finding> findings = FirstFrameCheck.Run(
                requests.Of(watched.Folder, plan, FactsDepth.Pixels),
                layer,
                frame,
                ending
            );
            watched.View = watched.View with { First = watched.View.First.SetItem(layer, (frame, findings)) };
        }

        watched.Revision = shot.Revision;
        if (unread.Length > 0)
        {
            events.Tell(shot.Id, "arrival", new { first = unread.Length });
        }
    }

    private static string Text(ArrivalView view) =>
        view.Problem
        + string.Join(
            '|',
            view.Layers.Select(l =>
                $"{l.Layer} {l.Landed} {l.State} {string.Join(',', l.Outputs.Select(o => $"{o.Landed}/{o.Settling}"))} "
                + $"{(view.First.TryGetValue(l.Layer, out var f) ? f.Frame : -1)}"
            )
        );
}

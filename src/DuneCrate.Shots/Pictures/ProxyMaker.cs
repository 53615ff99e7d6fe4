using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Views;
using DuneCrate.Store;

namespace DuneCrate.Shots.Pictures;

/// <summary>
/// Makes proxies in the background, one after the other: of the pass that somebody looks at, from their frame on, once they stay with it;
/// then of what the newest checks read. Whoever looks goes first.
/// </summary>
public sealed class ProxyMaker(ShowStore store, ShotViews views, PictureService pictures, ProxyStore proxies, ILogger<ProxyMaker> log)
    : BackgroundService
{
    private const int MostShots = 50;
    private static readonly TimeSpan Rest = TimeSpan.FromMilliseconds(700);

    private readonly SemaphoreSlim _news = new(0);
    private readonly Queue<int> _checked = new();
    private readonly Lock _lock = new();
    private (ShotView Shot, PictureAddress PictureAddress)? _wanted;

    /// <summary>
    /// Somebody looks at a pass at a frame that has no proxy yet; what is made of another pass meanwhile is left as it is.
    /// </summary>
    public void Want(ShotView shot, PictureAddress sought, SeenFile seen)
    {
        if (!proxies.Lacks(seen))
        {
            return;
        }

        lock (_lock)
        {
            _wanted = (shot, sought);
        }

        _news.Release();
    }

    /// <summary>Every pixel of a shot was read: the beauty of each layer is worth keeping as it is now.</summary>
    public void WantBeauty(int shotId)
    {
        lock (_lock)
        {
            if (_checked.Contains(shotId) || _checked.Count >= MostShots)
            {
                return;
            }

            _checked.Enqueue(shotId);
        }

        _news.Release();
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            await _news.WaitAsync(stoppingToken);
            while (await _news.WaitAsync(Rest, stoppingToken))
            {
                // Whoever flips through passes has not found yet what they look for.
            }

            await Background.DoAsync(log, "make proxies", () => MakeAsync(stoppingToken), stoppingToken);
        }
    }

    private async Task MakeAsync(CancellationToken ending)
    {
        while (Next() is var (wanted, shotId))
        {
            if (wanted is var (shot, sought))
            {
                await RangeAsync(shot, sought, ending);
            }
            else if (!await BeautyAsync(shotId, ending))
            {
                WantBeauty(shotId);
            }
        }
    }

    /// <summary>What to make next: of what somebody looks at, else of a shot that was checked; null when there is nothing.</summary>
    private ((ShotView Shot, PictureAddress PictureAddress)? Wanted, int ShotId)? Next()
    {
        lock (_lock)
        {
            (ShotView, PictureAddress)? wanted = _wanted;
            _wanted = null;
            return wanted is not null ? (wanted, 0)
                : _checked.TryDequeue(out int shotId) ? (null, shotId)
                : null;
        }
    }

    /// <returns>False when it was left for somebody who looks.</returns>
    private async Task<bool> BeautyAsync(int shotId, CancellationToken ending)
    {
        if (
            await store.ShotAsync(shotId, ending) is not { } row
            || await views.ViewAsync(row.Show.Code, row.Code, Selection.None, ending) is not { } shot
        )
        {
            return true;
        }

        foreach (PlannedOutput output in shot.Outputs.Where(o => o.HasBeauty))
        {
            if (!await RangeAsync(shot, new PictureAddress(output.Layer.Name, PassKeys.Beauty, shot.Range.First), ending))
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>Makes those of a range that are not there, from a frame on and around, while nobody wants something else.</summary>
    /// <returns>False when it was left for somebody who looks.</returns>
    private async Task<bool> RangeAsync(ShotView shot, PictureAddress sought, CancellationToken ending)
    {
        ImmutableArray<int> frames = [.. shot.Range.OrderBy(f => f < sought.Frame).ThenBy(f => f)];
        foreach (int frame in frames)
        {
            ending.ThrowIfCancellationRequested();
            lock (_lock)
            {
                if (_wanted is not null)
                {
                    return false;
                }
            }

            try
            {
                if (await pictures.FindAsync(shot, sought with { Frame = frame }, ending) is { } seen && proxies.Lacks(seen))
                {
                    await pictures.ProxyAsync(seen, await pictures.WindowAsync(seen, ending), ending);
                }
            }
            catch (Exception e)
                when (e is ImageException or IOException or UnauthorizedAccessException or PicturesBusyException or TimeoutException)
            {
                // A frame that cannot be read has its finding; where many wait, the page's own reading makes it.
            }
        }

        return true;
    }
}

using System.Collections.Immutable;
using DuneCrate.Core.Images;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Store;
using DuneCrate.Web.Jobs;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Looking;

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
    private (ShotView Shot, Sought Sought)? _wanted;

    /// <summary>Somebody looks at a pass; what they looked at before is left as it is.</summary>
    public void Want(ShotView shot, Sought sought)
    {
        lock (_lock)
        {
            if (_wanted is var (was, of) && was.Row.Id == shot.Row.Id && of with { Frame = 0 } == sought with { Frame = 0 })
            {
                return;
            }

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
            await Background.DoAsync(log, "make proxies", () => MakeAsync(stoppingToken), stoppingToken);
        }
    }

    private async Task MakeAsync(CancellationToken ending)
    {
        (ShotView, Sought)? made = null;
        while (true)
        {
            (ShotView Shot, Sought Sought)? wanted;
            int? shotId = null;
            lock (_lock)
            {
                wanted = _wanted;
                if (wanted is null || wanted == made)
                {
                    wanted = null;
                    shotId = _checked.TryDequeue(out int id) ? id : null;
                }
            }

            if (wanted is { } look)
            {
                await Task.Delay(Rest, ending);
                made = look;
                await RangeAsync(look.Shot, look.Sought, () => _wanted == look, ending);
            }
            else if (shotId is { } of)
            {
                (ShotView, Sought)? now = _wanted;
                if (!await BeautyAsync(of, () => _wanted == now, ending))
                {
                    WantBeauty(of);
                }
            }
            else
            {
                return;
            }
        }
    }

    private async Task<bool> BeautyAsync(int shotId, Func<bool> isLeft, CancellationToken ending)
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
            if (!await RangeAsync(shot, new Sought(output.Layer.Name, PassKeys.Beauty, shot.Range.First), isLeft, ending))
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>Makes those of a range that are not there, from a frame on and around, while nobody wants something else.</summary>
    /// <returns>False when it was left.</returns>
    private async Task<bool> RangeAsync(ShotView shot, Sought sought, Func<bool> isWanted, CancellationToken ending)
    {
        ImmutableArray<int> frames = [.. shot.Range.OrderBy(f => f < sought.Frame).ThenBy(f => f)];
        foreach (int frame in frames)
        {
            if (!isWanted() || ending.IsCancellationRequested)
            {
                return false;
            }

            try
            {
                if (
                    await pictures.FindAsync(shot, sought with { Frame = frame }, ending) is { Kept: null } seen
                    && !proxies.Has(seen)
                    && seen.PartOf(await pictures.HeaderAsync(seen, ending)) is { } part
                )
                {
                    await pictures.ProxyAsync(seen, part.DataWindow, ending);
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

using System.Collections.Concurrent;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Roots;

/// <summary>The grounds of all shows, read once after each change: this process alone writes them. Safe to use from any thread.</summary>
public sealed class ShowGrounds
{
    private readonly ConcurrentDictionary<int, ShowGround> _known = new();
    private readonly ShowFolderStore _store;
    private readonly StorageRoots _roots;
    private int _changes;

    /// <summary>Reads from a store.</summary>
    public ShowGrounds(ShowFolderStore store, StorageRoots roots)
    {
        (_store, _roots) = (store, roots);
        store.Changed += show =>
        {
            Interlocked.Increment(ref _changes);
            _known.TryRemove(show, out _);
        };
    }

    /// <summary>The ground of a show.</summary>
    public async ValueTask<ShowGround> OfAsync(ShowRow show, CancellationToken cancel = default)
    {
        if (_known.TryGetValue(show.Id, out ShowGround? known))
        {
            return known;
        }

        int before = Volatile.Read(ref _changes);
        var ground = new ShowGround(show.Code, [.. await _store.ListAsync(show.Id, cancel)], _roots);
        _known[show.Id] = ground;
        if (Volatile.Read(ref _changes) != before)
        {
            // A folder was given or taken back while this was read: the next one reads anew.
            _known.TryRemove(show.Id, out _);
        }

        return ground;
    }
}

using System.Collections.Concurrent;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Roots;

/// <summary>The grounds of all shows, read once after each change: this process alone writes them.</summary>
public sealed class ShowGrounds
{
    private readonly ConcurrentDictionary<int, ShowGround> _known = new();
    private readonly ShowFolderStore _store;
    private readonly StorageRoots _roots;

    /// <summary>Reads from a store.</summary>
    public ShowGrounds(ShowFolderStore store, StorageRoots roots)
    {
        (_store, _roots) = (store, roots);
        store.Changed += show => _known.TryRemove(show, out _);
    }

    /// <summary>The ground of a show.</summary>
    public async ValueTask<ShowGround> OfAsync(ShowRow show, CancellationToken cancel = default) =>
        _known.TryGetValue(show.Id, out ShowGround? known)
            ? known
            : _known[show.Id] = new ShowGround(show.Code, [.. await _store.ListAsync(show.Id, cancel)], _roots);
}

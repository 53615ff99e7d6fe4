using DuneCrate.Foundation.History;
using DuneCrate.Store.Rows;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>Which folders below the storage roots belong to which show.</summary>
public sealed class ShowFolderStore(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history)
{
    /// <summary>Raised when the folders of a show have changed, with its key.</summary>
    public event Action<int>? Changed;

    /// <summary>The folders of a show, by root and name.</summary>
    public async Task<List<ShowFolderRow>> ListAsync(int showId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .ShowFolders.AsNoTracking()
            .Where(f => f.ShowId == showId)
            .OrderBy(f => f.Root)
            .ThenBy(f => f.Folder)
            .ToListAsync(cancel);
    }

    /// <summary>Lets a folder belong to a show, unless it or one above it does already.</summary>
    /// <returns>Whether it is new.</returns>
    public async Task<bool> GrantAsync(
        int showId,
        string root,
        string folder,
        AuditEvent? audited = null,
        CancellationToken cancel = default
    )
    {
        try
        {
            bool isNew = await history.TryChangeAsync((context, stop) => GrantAsync(context, showId, root, folder, stop), audited, cancel);
            if (isNew)
            {
                Tell(showId);
            }

            return isNew;
        }
        catch (DbUpdateException e)
            when (e.InnerException is SqliteException { SqliteExtendedErrorCode: SQLitePCL.raw.SQLITE_CONSTRAINT_FOREIGNKEY })
        {
            return false; // The show is gone.
        }
    }

    /// <summary>The same within a transaction of others; <see cref="Tell"/> says so when it is done.</summary>
    internal static async Task<bool> GrantAsync(DuneCrateContext context, int showId, string root, string folder, CancellationToken cancel)
    {
        List<ShowFolderRow> known = await context.ShowFolders.AsNoTracking().Where(f => f.ShowId == showId).ToListAsync(cancel);
        if (known.Exists(k => Covers(k, root, folder)))
        {
            return false;
        }

        context.ShowFolders.Add(
            new ShowFolderRow
            {
                ShowId = showId,
                Root = root,
                Folder = folder,
            }
        );
        return true;
    }

    /// <summary>Tells that the folders of a show have changed.</summary>
    internal void Tell(int showId) => Changed?.Invoke(showId);

    /// <summary>Takes a folder from a show.</summary>
    /// <returns>What it was, or null when the show has none of the key.</returns>
    public async Task<ShowFolderRow?> TakeBackAsync(
        int showId,
        int id,
        Func<ShowFolderRow, AuditEvent>? audited = null,
        CancellationToken cancel = default
    )
    {
        ShowFolderRow? taken = await history.TryChangeAsync(
            async (context, stop) =>
            {
                ShowFolderRow? row = await context.ShowFolders.FirstOrDefaultAsync(f => f.ShowId == showId && f.Id == id, stop);
                if (row is not null)
                {
                    context.ShowFolders.Remove(row);
                }

                return row;
            },
            audited,
            cancel
        );
        if (taken is not null)
        {
            Tell(showId);
        }

        return taken;
    }

    /// <summary>Whether a folder is one that belongs to a show, or lies in it.</summary>
    public static bool Covers(ShowFolderRow owned, string root, string folder) =>
        owned.Root.Equals(root, StringComparison.OrdinalIgnoreCase)
        && (owned.Folder.Length == 0 || folder == owned.Folder || folder.StartsWith(owned.Folder + "/", StringComparison.Ordinal));
}

using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;

namespace DuneCrate.Store.Keeping;

/// <summary>Signs the newest entry of the history, at each start, backup and seal.</summary>
public sealed class HistoryHead(
    IDbContextFactory<DuneCrateContext> contexts,
    HistoryStore history,
    DataFolder data,
    InstallationKeys keys,
    TimeProvider time,
    ILogger<HistoryHead> log
)
{
    private readonly Lock _turn = new();

    /// <summary>Signs it now, and whenever a crate has been sealed.</summary>
    public void Begin()
    {
        Sign();
        history.Added += entry =>
        {
            if (entry.Kind == HistoryKinds.Sealed)
            {
                Sign();
            }
        };
    }

    /// <summary>Signs it; on a disk that refuses it is signed the next time.</summary>
    public void Sign()
    {
        lock (_turn)
        {
            try
            {
                using DuneCrateContext context = contexts.CreateDbContext();
                HistoryAnchor.Keep(context, data, keys, time.UtcNow);
            }
            catch (Exception e) when (e is UnauthorizedAccessException || StoreFile.IsDisk(e))
            {
                log.LogError(e, "The end of the history could not be signed");
            }
        }
    }
}

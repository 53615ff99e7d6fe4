namespace DuneCrate.Foundation.History;

/// <summary>Makes and verifies the chain of hashes that a history is.</summary>
public static class HistoryChain
{
    /// <summary>What the first entry holds for the hash of one before it.</summary>
    public const string First = "0000000000000000000000000000000000000000000000000000000000000000";

    /// <summary>The entry that comes after another; times are cut to milliseconds, as they are stored.</summary>
    /// <param name="last">The newest entry, or null for the first.</param>
    /// <param name="at">When, UTC.</param>
    /// <param name="deed">What was done.</param>
    public static HistoryEntry Next(HistoryEntry? last, DateTime at, AuditEvent deed)
    {
        var entry = new HistoryEntry(
            (last?.Number ?? 0) + 1,
            new DateTime(at.Ticks - at.Ticks % TimeSpan.TicksPerMillisecond, DateTimeKind.Utc),
            deed.Who,
            deed.Kind,
            deed.Show,
            deed.Shot,
            deed.Subject,
            deed.Before,
            deed.After,
            last?.Hash ?? First,
            ""
        );
        return entry with { Hash = entry.ComputeHash() };
    }

    /// <summary>What is wrong with a history, in words; null when it is whole.</summary>
    /// <param name="entries">All of it, oldest first.</param>
    public static string? Problem(IEnumerable<HistoryEntry> entries)
    {
        (long number, string previous) = (0, First);
        foreach (HistoryEntry entry in entries)
        {
            if (entry.Number != number + 1)
            {
                return entry.Number == number + 2
                    ? $"entry {number + 1} is missing"
                    : $"entries {number + 1} to {entry.Number - 1} are missing";
            }

            if (entry.Previous != previous)
            {
                return $"entry {entry.Number} does not follow the one before it";
            }

            if (entry.ComputeHash() != entry.Hash)
            {
                return $"entry {entry.Number} was changed";
            }

            (number, previous) = (entry.Number, entry.Hash);
        }

        return null;
    }
}

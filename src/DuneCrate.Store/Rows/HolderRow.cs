namespace DuneCrate.Store.Rows;

/// <summary>The process that works with this database; one row at most.</summary>
public sealed class HolderRow
{
    /// <summary>Key; always 1.</summary>
    public int Id { get; set; } = 1;

    /// <summary>Random name of the process's hold, so that it gives up only its own.</summary>
    public required string Hold { get; set; }

    /// <summary>Name of the machine.</summary>
    public required string Machine { get; set; }

    /// <summary>Number of the process there.</summary>
    public int Process { get; set; }

    /// <summary>When that process was started, in the machine's own count (ticks since it booted), so that another with its number is
    /// told from it.</summary>
    public long Started { get; set; }

    /// <summary>When it last said that it is there, UTC.</summary>
    public DateTime Seen { get; set; }
}

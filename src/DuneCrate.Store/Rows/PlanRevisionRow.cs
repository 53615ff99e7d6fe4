namespace DuneCrate.Store.Rows;

/// <summary>One version of a shot's plan, and how it came to be.</summary>
public sealed class PlanRevisionRow
{
    /// <summary>The shot; with the revision the key.</summary>
    public int ShotId { get; set; }

    /// <summary>The plan's revision after the step.</summary>
    public int Revision { get; set; }

    /// <summary>The plan after the step, packed.</summary>
    public required byte[] Plan { get; set; }

    /// <summary>What the step did, in words.</summary>
    public required string What { get; set; }

    /// <summary>What sort of step it is.</summary>
    public RevisionKind Kind { get; set; }

    /// <summary>The browser that made it: undo takes back one's own steps only.</summary>
    public string Session { get; set; } = "";

    /// <summary>Who, as they call themselves; may be empty.</summary>
    public string By { get; set; } = "";

    /// <summary>When, UTC.</summary>
    public DateTime At { get; set; }
}

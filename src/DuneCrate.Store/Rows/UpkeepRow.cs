namespace DuneCrate.Store.Rows;

/// <summary>How long what can be made anew is kept. One row; the numbers that ship hold without it.</summary>
public sealed class UpkeepRow
{
    /// <summary>Always 1.</summary>
    public int Id { get; set; } = 1;

    /// <summary>Finished checks that are kept of a shot, the newest first.</summary>
    public int ChecksKept { get; set; } = 50;

    /// <summary>Days after which a crate that a newer one supersedes is deleted; 0 keeps all of them.</summary>
    public int SupersededDays { get; set; }

    /// <summary>Days after which facts of a folder that nobody asked for are forgotten.</summary>
    public int FactsDays { get; set; } = 180;
}

namespace DuneCrate.Store.Rows;

/// <summary>Cameras, lights, locators and planes that are handed over with a shot.</summary>
public sealed class SceneHelpersRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The shot; it has at most one.</summary>
    public int ShotId { get; set; }

    /// <summary>Name of the file that they were read from.</summary>
    public required string Source { get; set; }

    /// <summary>All that the file has, as a table; never changed.</summary>
    public required string Table { get; set; }

    /// <summary>What the file says that is not as the shot has it, a line each.</summary>
    public string Told { get; set; } = "";

    /// <summary>Names of those that are handed over, a line each.</summary>
    public string Chosen { get; set; } = "";

    /// <summary>What was changed of them and came back, as a table of offsets; empty for nothing.</summary>
    public string Offsets { get; set; } = "";

    /// <summary>Who brought them.</summary>
    public string By { get; set; } = "";

    /// <summary>When they were last changed, UTC.</summary>
    public DateTime At { get; set; }
}

namespace DuneCrate.Store.Rows;

/// <summary>What somebody who got a crate says is wrong in it.</summary>
public sealed class CrateRemarkRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The crate.</summary>
    public int CrateId { get; set; }

    /// <summary>The crate.</summary>
    public CrateRow Crate { get; set; } = null!;

    /// <summary>Render layer; empty for the whole crate.</summary>
    public string Layer { get; set; } = "";

    /// <summary>Key of the pass; empty for the whole crate.</summary>
    public string Pass { get; set; } = "";

    /// <summary>Frames as they were rendered, as a frame set; empty for all.</summary>
    public string Frames { get; set; } = "";

    /// <summary>What is wrong.</summary>
    public required string Words { get; set; }

    /// <summary>Who says so.</summary>
    public required string By { get; set; }

    /// <summary>When, UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>Name of the crate that answers it; null while none does.</summary>
    public string? AnsweredBy { get; set; }
}

namespace DuneCrate.Store.Rows;

/// <summary>A show.</summary>
public sealed class ShowRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>Short code, unique.</summary>
    public required string Code { get; set; }

    /// <summary>Name for people.</summary>
    public required string Name { get; set; }

    /// <summary>Frame rate of new shots.</summary>
    public string FrameRate { get; set; } = "24/1";

    /// <summary>Width of new shots in pixels.</summary>
    public int Width { get; set; } = 1920;

    /// <summary>Height of new shots in pixels.</summary>
    public int Height { get; set; } = 1080;

    /// <summary>What holds for all its shots, as the plan document's show; null for nothing beyond code and name.</summary>
    public string? SettingsJson { get; set; }

    /// <summary>When it was put into the archive, UTC; null for a show that is worked on.</summary>
    public DateTime? ArchivedAt { get; set; }

    /// <summary>Its shots.</summary>
    public List<ShotRow> Shots { get; set; } = [];
}

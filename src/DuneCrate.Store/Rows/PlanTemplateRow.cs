namespace DuneCrate.Store.Rows;

/// <summary>A plan that a show keeps for new shots.</summary>
public sealed class PlanTemplateRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The show.</summary>
    public int ShowId { get; set; }

    /// <summary>Name, unique in the show.</summary>
    public required string Name { get; set; }

    /// <summary>The plan as a document; its shot's code, frames and camera are asked for when it is used.</summary>
    public required string PlanJson { get; set; }

    /// <summary>When it was kept, UTC.</summary>
    public DateTime At { get; set; }
}

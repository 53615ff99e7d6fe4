namespace DuneCrate.Store.Rows;

/// <summary>Somebody who gets crates of a show, and what they want.</summary>
public sealed class ReceiverRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The show.</summary>
    public int ShowId { get; set; }

    /// <summary>Name, one of a kind in its show.</summary>
    public required string Name { get; set; }

    /// <summary>How they are reached.</summary>
    public string Contact { get; set; } = "";

    /// <summary>What to know about them.</summary>
    public string Note { get; set; } = "";

    /// <summary>What they want: a document <c>dune-crate.recipe/1</c>.</summary>
    public required string Recipe { get; set; }
}

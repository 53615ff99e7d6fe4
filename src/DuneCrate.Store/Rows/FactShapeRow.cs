namespace DuneCrate.Store.Rows;

/// <summary>What headers say that are alike but for name, size, time and render seconds.</summary>
public sealed class FactShapeRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>XXH3 (64 bit) of the text.</summary>
    public long Hash { get; set; }

    /// <summary>The facts as JSON, Brotli-compressed.</summary>
    public required byte[] Facts { get; set; }
}

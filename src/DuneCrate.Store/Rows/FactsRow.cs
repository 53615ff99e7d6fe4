namespace DuneCrate.Store.Rows;

/// <summary>Remembered facts of one file.</summary>
public sealed class FactsRow
{
    /// <summary>Full path; the key.</summary>
    public required string Path { get; set; }

    /// <summary>Size in bytes when it was read.</summary>
    public long Bytes { get; set; }

    /// <summary>Time of the last change when it was read, in ticks, UTC.</summary>
    public long Modified { get; set; }

    /// <summary>Whether every pixel was read.</summary>
    public bool Pixels { get; set; }

    /// <summary>Version of the facts' form and what was summed to what.</summary>
    public required string Signature { get; set; }

    /// <summary>The facts as JSON, Brotli-compressed.</summary>
    public required byte[] Facts { get; set; }
}

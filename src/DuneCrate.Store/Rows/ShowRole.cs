namespace DuneCrate.Store.Rows;

/// <summary>What a person is in a show.</summary>
public enum ShowRole
{
    /// <summary>Does everything.</summary>
    Wrangler,

    /// <summary>Plans, looks, answers notes.</summary>
    Lighter,

    /// <summary>Gets the crates, looks, answers notes.</summary>
    Compositor,
}

namespace DuneCrate.Store.Rows;

/// <summary>What its receiver says of a crate.</summary>
public enum CrateAnswer
{
    /// <summary>Nothing yet.</summary>
    None,

    /// <summary>It is good to work with.</summary>
    Accepted,

    /// <summary>Something in it must be done again.</summary>
    SentBack,
}

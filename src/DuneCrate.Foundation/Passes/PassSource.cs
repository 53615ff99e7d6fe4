namespace DuneCrate.Foundation.Passes;

/// <summary>Which of the items that a layer shows are seen in a pass.</summary>
public enum PassSource
{
    /// <summary>All of them.</summary>
    Shown,

    /// <summary>Those with a trait that fills the pass.</summary>
    Filling,

    /// <summary>Those that cast a shadow.</summary>
    Casting,

    /// <summary>Those that go into its masks.</summary>
    Masked,

    /// <summary>Those whose id it asks for.</summary>
    Identified,
}

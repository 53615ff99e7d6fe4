namespace DuneCrate.Foundation.Passes;

/// <summary>How much a pass is wanted where an item of the scene fills it.</summary>
public enum PassNeed
{
    /// <summary>By those who ask for it.</summary>
    Optional,

    /// <summary>Worth having: it is proposed.</summary>
    Proposed,

    /// <summary>A sum of light passes lacks light without it.</summary>
    Essential,
}

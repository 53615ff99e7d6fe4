namespace DuneCrate.Planning.Scene;

/// <summary>How much a roster may hold: more than anybody needs, little enough that nothing takes long.</summary>
public static class RosterLimits
{
    /// <summary>Items of a scene, and rows of a table that is brought in.</summary>
    public const int MaxItems = 10_000;

    /// <summary>Nodes of a scene file.</summary>
    public const int MaxNodes = 200_000;
}

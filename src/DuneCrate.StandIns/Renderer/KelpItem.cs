namespace DuneCrate.StandIns.Renderer;

/// <summary>Something with a name in the scene.</summary>
internal sealed record KelpItem(string Name, int Id, string Layer, Material Material);

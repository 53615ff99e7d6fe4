namespace DuneCrate.StandIns.Renderer;

/// <summary>How far a render is.</summary>
/// <param name="Done">Layer frames done.</param>
/// <param name="Total">Layer frames to do.</param>
public readonly record struct RenderProgress(int Done, int Total);

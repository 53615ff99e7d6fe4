using System.Numerics;

namespace DuneCrate.StandIns.Renderer;

/// <summary>A surface's look. Colours are scene-linear.</summary>
internal sealed record Material(Vector3 Albedo, float Gloss = 0, float Mirror = 0, bool IsGlass = false, Vector3 Emits = default);

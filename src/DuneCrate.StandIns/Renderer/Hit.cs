using System.Numerics;

namespace DuneCrate.StandIns.Renderer;

/// <summary>A point seen along a ray.</summary>
internal readonly record struct Hit(float Distance, int Shape, Vector3 Point, Vector3 Normal);

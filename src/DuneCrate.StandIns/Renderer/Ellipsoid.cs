using System.Numerics;

namespace DuneCrate.StandIns.Renderer;

/// <summary>An axis-aligned ellipsoid: centre, radii, and the item it is part of.</summary>
internal readonly record struct Ellipsoid(Vector3 Center, Vector3 Radii, int Item);

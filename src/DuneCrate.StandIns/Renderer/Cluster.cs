using System.Numerics;

namespace DuneCrate.StandIns.Renderer;

/// <summary>Ellipsoids inside one upright box.</summary>
internal readonly record struct Cluster(Vector3 Low, Vector3 High, int First, int Last);

namespace DuneCrate.Planning.Scene.Helpers;

/// <summary>The lens of a camera. Source: glTF 2.0 specification, 3.10.3, perspective projection.</summary>
/// <param name="VerticalFov">Vertical field of view in radians.</param>
/// <param name="Aspect">Width of the film back over its height; null for that of the picture.</param>
public sealed record HelperLens(double VerticalFov, double? Aspect);

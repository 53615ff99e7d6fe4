using System.Numerics;

namespace DuneCrate.Planning.Scene.Helpers;

/// <summary>What a light gives. Source: KHR_lights_punctual.</summary>
/// <param name="Type">point, spot or directional.</param>
/// <param name="Colour">Linear RGB.</param>
/// <param name="Intensity">Candela of point and spot, lux of directional.</param>
public sealed record HelperLight(string Type, Vector3 Colour, double Intensity);

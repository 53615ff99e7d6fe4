using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Foundation.Passes;

/// <summary>What a pass is, and hence how it is stored and used.</summary>
[JsonConverter(typeof(EnumNames<PassKind>))]
public enum PassKind
{
    /// <summary>The finished picture; the answer that the light passes must sum to.</summary>
    Combined,

    /// <summary>One share of the light; summed.</summary>
    Light,

    /// <summary>Albedo and irradiance, multiplied pairwise into light.</summary>
    Factor,

    /// <summary>Occlusion and shadow, multiplied over what lies below; white where nothing happens.</summary>
    Modulate,

    /// <summary>Mattes and coverage, 0 to 1; drive an operation.</summary>
    Mask,

    /// <summary>Depth, normal, position, texture coordinates, motion: not colour, never summed, never filtered.</summary>
    Data,

    /// <summary>Object and material ids, Cryptomatte: exact values, never filtered, never lossy.</summary>
    Identity,

    /// <summary>Wireframe, clay turntable: laid over.</summary>
    Look,
}

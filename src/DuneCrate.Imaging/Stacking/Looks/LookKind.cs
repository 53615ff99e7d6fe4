using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Imaging.Stacking.Looks;

/// <summary>What a pass is tried for.</summary>
[JsonConverter(typeof(EnumNames<LookKind>))]
public enum LookKind
{
    /// <summary>Light that spreads around what shines: a blurred copy is added.</summary>
    Glow,

    /// <summary>Fog that thickens with depth.</summary>
    Fog,

    /// <summary>A lens that is focused at a distance.</summary>
    Focus,

    /// <summary>A lamp turned up, down or to another colour in a beauty that holds its light.</summary>
    Relight,

    /// <summary>Motion vectors as the blur of an open shutter.</summary>
    Blur,
}

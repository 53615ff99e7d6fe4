using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Imaging.Stacking;

/// <summary>
/// How a strip is laid onto what lies below it. Sources: Porter and Duff, <em>Compositing Digital Images</em>, 1984 (over, under, holdout
/// as out, keep as in); W3C <em>Compositing and Blending Level 1</em> (screen, multiply), not clamped.
/// </summary>
[JsonConverter(typeof(EnumNames<StackOperation>))]
public enum StackOperation
{
    /// <summary>On top, as far as it is opaque.</summary>
    Over,

    /// <summary>Below, as far as what is there is not opaque.</summary>
    Under,

    /// <summary>Light added to light.</summary>
    Plus,

    /// <summary>Light taken away; where the strip is transparent nothing is.</summary>
    Multiply,

    /// <summary>Added, and no brighter than 1 where both are not.</summary>
    Screen,

    /// <summary>The darker of both.</summary>
    Minimum,

    /// <summary>The brighter of both.</summary>
    Maximum,

    /// <summary>How far both are apart.</summary>
    Difference,

    /// <summary>What is there is cut away where the strip is.</summary>
    Holdout,

    /// <summary>What is there stays where the strip is.</summary>
    Keep,
}

using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Planning.Scene;

/// <summary>What an item is.</summary>
[JsonConverter(typeof(EnumNames<ItemKind>))]
public enum ItemKind
{
    /// <summary>A thing with a surface or a volume.</summary>
    Object,

    /// <summary>A material that things wear.</summary>
    Material,

    /// <summary>A light.</summary>
    Light,

    /// <summary>A camera.</summary>
    Camera,

    /// <summary>A point without a surface that helps compositors.</summary>
    Locator,

    /// <summary>A flat stand-in for a surface, such as a shadow catcher.</summary>
    Plane,
}

using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Foundation.Passes;

/// <summary>How an item takes part in a layer; set once and true for all passes of the layer.</summary>
[JsonConverter(typeof(EnumNames<ItemRole>))]
public enum ItemRole
{
    /// <summary>Seen, casts and receives.</summary>
    Shown,

    /// <summary>Not there at all.</summary>
    Hidden,

    /// <summary>Cuts a hole into what lies behind it.</summary>
    Holdout,

    /// <summary>Not seen; its shadow is.</summary>
    ShadowOnly,

    /// <summary>Not seen directly; mirrored it is.</summary>
    ReflectionOnly,

    /// <summary>Seen, and casts no shadow.</summary>
    NoShadow,
}

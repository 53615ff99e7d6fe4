using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Imaging;

/// <summary>How colour relates to alpha.</summary>
[JsonConverter(typeof(EnumNames<AlphaMode>))]
public enum AlphaMode
{
    /// <summary>No alpha, or one that is not to be used.</summary>
    None,

    /// <summary>Colour is not multiplied by alpha.</summary>
    Straight,

    /// <summary>Colour is multiplied by alpha.</summary>
    Premultiplied,
}

using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Foundation.Passes;

/// <summary>A trait that passes depend on.</summary>
[JsonConverter(typeof(EnumNames<ItemTrait>))]
public enum ItemTrait
{
    /// <summary>Gives light.</summary>
    Emits,

    /// <summary>Lets one look through: glass, water.</summary>
    Transparent,

    /// <summary>Glossy or mirroring.</summary>
    Glossy,

    /// <summary>Light goes in and comes out elsewhere.</summary>
    Scattering,

    /// <summary>A texture cuts its outline out.</summary>
    CutOut,

    /// <summary>Moves or deforms.</summary>
    Animated,

    /// <summary>A volume: smoke, fog, murky water.</summary>
    Volume,
}

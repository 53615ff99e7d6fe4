using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Planning.Edits;

/// <summary>How a layer's passes are spread over files.</summary>
[JsonConverter(typeof(EnumNames<OutputArrangement>))]
public enum OutputArrangement
{
    /// <summary>All passes in one multi-channel file.</summary>
    Shared,

    /// <summary>Half colour in one file, data and identity in another.</summary>
    DataApart,

    /// <summary>A file per pass.</summary>
    PerPass,

    /// <summary>As somebody arranged it by hand.</summary>
    Mixed,
}

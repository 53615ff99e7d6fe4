using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Planning.Sheet;

/// <summary>In which file of its layer a pass stands.</summary>
[JsonConverter(typeof(EnumNames<PassHome>))]
public enum PassHome
{
    /// <summary>The layer's shared file.</summary>
    Shared,

    /// <summary>A second shared file, for data and identity.</summary>
    Data,

    /// <summary>A file of its own.</summary>
    Own,
}

using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Checking.Intake;

/// <summary>How much of a file is read.</summary>
[JsonConverter(typeof(EnumNames<FactsDepth>))]
public enum FactsDepth
{
    /// <summary>Names, sizes and headers.</summary>
    Header,

    /// <summary>Every pixel of every channel.</summary>
    Pixels,
}

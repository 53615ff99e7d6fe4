using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Checking.Rebuild;

/// <summary>Why light passes do not sum to the beauty.</summary>
[JsonConverter(typeof(EnumNames<RebuildCauseKind>))]
public enum RebuildCauseKind
{
    /// <summary>They do, within the limits.</summary>
    [JsonStringEnumMemberName("sums")]
    Sums,

    /// <summary>A term is black, and its light is in the beauty.</summary>
    [JsonStringEnumMemberName("missing-term")]
    MissingTerm,

    /// <summary>A term's light is counted twice.</summary>
    [JsonStringEnumMemberName("doubled-term")]
    DoubledTerm,

    /// <summary>A term holds more or less than its light.</summary>
    [JsonStringEnumMemberName("scaled-term")]
    ScaledTerm,

    /// <summary>Two products have each other's factors. (Addends that are swapped sum all the same.)</summary>
    [JsonStringEnumMemberName("swapped-terms")]
    SwappedTerms,

    /// <summary>The beauty holds light that no term has.</summary>
    [JsonStringEnumMemberName("missing-pass")]
    MissingPass,

    /// <summary>The beauty went through a curve.</summary>
    [JsonStringEnumMemberName("view-transform")]
    ViewTransform,

    /// <summary>The beauty is black.</summary>
    [JsonStringEnumMemberName("beauty-black")]
    BeautyBlack,

    /// <summary>None of these.</summary>
    [JsonStringEnumMemberName("unknown")]
    Unknown,
}

using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Checking.Findings;

/// <summary>What can be done about a finding.</summary>
[JsonConverter(typeof(EnumNames<RemedyKind>))]
public enum RemedyKind
{
    /// <summary>A person must look.</summary>
    Look,

    /// <summary>Render the frames again; they go on the rerun list.</summary>
    Rerender,

    /// <summary>Give the files their right names.</summary>
    Rename,

    /// <summary>Change the plan, if what came is what is wanted.</summary>
    Replan,

    /// <summary>Wait; nothing is wrong yet.</summary>
    Wait,
}

using System.Text.Json.Serialization;
using DuneCrate.Foundation.Json;

namespace DuneCrate.Foundation.Rules;

/// <summary>How much a finding weighs; the order is the order of reports.</summary>
[JsonConverter(typeof(EnumNames<Severity>))]
public enum Severity
{
    /// <summary>The crate cannot be sealed without a waiver.</summary>
    Blocker,

    /// <summary>A person must look.</summary>
    Warning,

    /// <summary>Good to know.</summary>
    Note,
}

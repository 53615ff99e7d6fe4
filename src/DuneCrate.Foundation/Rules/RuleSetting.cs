using System.Text.Json.Serialization;

namespace DuneCrate.Foundation.Rules;

/// <summary>What a show changes about a rule.</summary>
public sealed record RuleSetting
{
    /// <summary>Whether the rule is not asked at all.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Off { get; init; }

    /// <summary>Severity of all its findings; null for the rule's own.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public Severity? Severity { get; init; }

    /// <summary>Thresholds that differ, by name.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, double>? Thresholds { get; init; }
}

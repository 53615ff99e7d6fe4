using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>
/// The whole plan replaced, by an import, a template or an earlier version. The shot keeps its code and the show is the show.
/// </summary>
public sealed record ReplacePlan(Plan With, string What) : PlanEdit
{
    /// <inheritdoc/>
    public override string Description => What;

    /// <summary>Whether it was made here of this plan or of the shot's files, and not brought in by somebody.</summary>
    [JsonIgnore]
    public bool IsOwn { get; init; }

    /// <inheritdoc/>
    protected internal override bool BringsPlan => !IsOwn;

    /// <inheritdoc/>
    protected override Plan Change(Plan plan) => With with { Show = plan.Show, Shot = With.Shot with { Code = plan.Shot.Code } };
}

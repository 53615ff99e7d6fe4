using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;

namespace DuneCrate.Planning.Rules;

/// <summary>One mistake in a plan, before anything is rendered.</summary>
public sealed record PlanFinding
{
    /// <summary>The rule's id.</summary>
    public required string Rule { get; init; }

    /// <summary>Its weight.</summary>
    public required Severity Severity { get; init; }

    /// <summary>The layer, or null for the shot.</summary>
    public string? Layer { get; init; }

    /// <summary>The pass, or null for the whole layer.</summary>
    public string? Pass { get; init; }

    /// <summary>The field it stands beside, such as template or frames; null for the cell itself.</summary>
    public string? Field { get; init; }

    /// <summary>A sentence a wrangler understands.</summary>
    public required string Message { get; init; }

    /// <summary>What to do, in words.</summary>
    public required string Remedy { get; init; }

    /// <summary>What does it at once, or null.</summary>
    public PlanEdit? Fix { get; init; }
}

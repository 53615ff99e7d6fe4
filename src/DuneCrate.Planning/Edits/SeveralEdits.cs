using System.Collections.Immutable;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Several changes that are made, and taken back, as one.</summary>
public sealed record SeveralEdits(ImmutableArray<PlanEdit> Edits, string What) : PlanEdit
{
    /// <inheritdoc/>
    public override string Description => What;

    /// <inheritdoc/>
    protected internal override bool BringsPlan => Edits.Any(e => e.BringsPlan);

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        CheckCount(Edits.Length);
        return Through(plan, Edits);
    }
}

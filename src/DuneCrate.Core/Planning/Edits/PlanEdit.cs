using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Planning.Merging;

namespace DuneCrate.Core.Planning.Edits;

/// <summary>
/// One change to a plan, as a value: what the pages send, what one-click remedies are, and what can be made on one version and brought
/// onto another. Immutable. To add one, write a record beside its family and name it here.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "do")]
[JsonDerivedType(typeof(WriteCells), "cells")]
[JsonDerivedType(typeof(WriteRoles), "role-cells")]
[JsonDerivedType(typeof(WriteSettings), "setting-cells")]
[JsonDerivedType(typeof(WriteItems), "item-cells")]
[JsonDerivedType(typeof(AddLayer), "add-layer")]
[JsonDerivedType(typeof(DuplicateLayer), "duplicate-layer")]
[JsonDerivedType(typeof(RenameLayer), "rename-layer")]
[JsonDerivedType(typeof(RemoveLayer), "remove-layer")]
[JsonDerivedType(typeof(MoveLayer), "move-layer")]
[JsonDerivedType(typeof(SetLayer), "layer")]
[JsonDerivedType(typeof(SetChanges), "changes")]
[JsonDerivedType(typeof(SetSettings), "settings")]
[JsonDerivedType(typeof(SetShot), "shot")]
[JsonDerivedType(typeof(SetOutputs), "outputs")]
[JsonDerivedType(typeof(ArrangeOutputs), "arrange")]
[JsonDerivedType(typeof(PutItems), "put-items")]
[JsonDerivedType(typeof(RenameItem), "rename-item")]
[JsonDerivedType(typeof(RemoveItems), "remove-items")]
[JsonDerivedType(typeof(SetRoles), "roles")]
[JsonDerivedType(typeof(AssignIds), "assign-ids")]
[JsonDerivedType(typeof(AssignColours), "assign-colours")]
[JsonDerivedType(typeof(PackMattes), "pack-mattes")]
[JsonDerivedType(typeof(SetAskedIds), "asked-ids")]
[JsonDerivedType(typeof(SetTestFrame), "test-frame")]
[JsonDerivedType(typeof(ReplacePlan), "replace")]
[JsonDerivedType(typeof(SeveralEdits), "several")]
public abstract record PlanEdit
{
    /// <summary>What it does, for the list of versions: "depth of sub changed".</summary>
    [JsonIgnore]
    public abstract string Says { get; }

    /// <summary>The plan after it. Layers based on another follow.</summary>
    /// <exception cref="PlanEditException">The change cannot be made; says at which field and why.</exception>
    public Plan Apply(Plan plan)
    {
        Plan after = PlanMerge.Follow(plan, Change(plan));
        IEnumerable<FrameSet?> ranges = after.Layers.SelectMany(l => l.Outputs.SelectMany(o => o.Passes.Select(p => p.Frames).Prepend(o.Frames)).Prepend(l.Frames));
        return ranges.Select(PlanValidation.TooManyProblem).FirstOrDefault(p => p is not null) is { } problem ? throw new PlanEditException("frames", problem) : after;
    }

    /// <summary>The change proper.</summary>
    protected abstract Plan Change(Plan plan);

    /// <summary>The plan with one layer changed.</summary>
    /// <exception cref="PlanEditException">There is no such layer.</exception>
    protected static Plan ChangeLayer(Plan plan, string name, Func<LayerPlan, LayerPlan> change)
    {
        int index = plan.Layers.ToList().FindIndex(l => l.Name == name);
        return index >= 0
            ? plan with { Layers = plan.Layers.SetItem(index, change(plan.Layers[index])) }
            : throw new PlanEditException("layer", $"There is no layer {name} any more; somebody may have renamed it.");
    }

    /// <summary>The named layers, or all of them when none is named.</summary>
    protected static ImmutableArray<string> Named(Plan plan, ImmutableArray<string> layers) => layers.IsDefaultOrEmpty ? [.. plan.Layers.Select(l => l.Name)] : layers;

    /// <summary>"sub", "sub and kelp", "5 layers".</summary>
    protected static string Listed(ImmutableArray<string> names, string none) => names.IsDefaultOrEmpty ? none : names.Length <= 2 ? string.Join(" and ", names) : $"{names.Length} layers";

    /// <summary>Several changes as one.</summary>
    internal static Plan Through(Plan plan, IEnumerable<PlanEdit> edits) => edits.Aggregate(plan, (p, edit) => edit.Apply(p));
}

/// <summary>A change that cannot be made.</summary>
/// <param name="field">The field where to say so.</param>
/// <param name="message">What is wrong and what to do.</param>
public sealed class PlanEditException(string field, string message) : Exception(message)
{
    /// <summary>The field where to say so.</summary>
    public string Field { get; } = field;
}

/// <summary>Several changes that are made, and taken back, as one.</summary>
public sealed record SeveralEdits(ImmutableArray<PlanEdit> Edits, string What) : PlanEdit
{
    /// <inheritdoc/>
    public override string Says => What;

    /// <inheritdoc/>
    protected override Plan Change(Plan plan) => Through(plan, Edits);
}

/// <summary>The whole plan replaced, by an import, a template or an earlier version. The shot keeps its code and the show is the show.</summary>
public sealed record ReplacePlan(Plan With, string What) : PlanEdit
{
    /// <inheritdoc/>
    public override string Says => What;

    /// <inheritdoc/>
    protected override Plan Change(Plan plan) => With with { Show = plan.Show, Shot = With.Shot with { Code = plan.Shot.Code } };
}

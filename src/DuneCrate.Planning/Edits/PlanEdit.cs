using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;
using DuneCrate.Planning.Merging;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

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
    public abstract string Description { get; }

    /// <summary>Reads a change that a page or a script sends.</summary>
    /// <exception cref="JsonException">The text is no change; the exception says where.</exception>
    public static PlanEdit Read(string json) => DocumentJson.Read<PlanEdit>(json, EditJson.Ahead);

    /// <summary>The change as text without line breaks.</summary>
    public string Write() => JsonSerializer.Serialize(this, EditJson.Ahead.Of<PlanEdit>());

    /// <summary>The plan after it. Layers based on another follow.</summary>
    /// <exception cref="PlanEditException">
    /// The change cannot be made, or would make something wrong in the plan that was not wrong before; says at which field and why. What a
    /// rule of the plan tells of may come of an edit,
    /// and never of a plan that is brought in.
    /// </exception>
    public Plan Apply(Plan plan)
    {
        Plan after = Made(plan);
        CheckNoWorse(plan, after, takesFindings: !BringsPlan);
        return after;
    }

    /// <summary>Whether it brings a plan in that was made elsewhere.</summary>
    [JsonIgnore]
    protected internal virtual bool BringsPlan => false;

    /// <summary>Refuses a plan in which something is wrong that was not wrong before.</summary>
    /// <param name="before">The plan before.</param>
    /// <param name="after">The plan after.</param>
    /// <param name="takesFindings">Whether that may be wrong of which rules of the plan tell.</param>
    /// <exception cref="PlanEditException">Description at which field and why.</exception>
    public static void CheckNoWorse(Plan before, Plan after, bool takesFindings)
    {
        if (ReferenceEquals(before, after))
        {
            return;
        }

        PlanProblem[] problems = [.. PlanValidation.Check(after).Where(p => !takesFindings || !p.IsFinding)];
        if (problems.Length == 0)
        {
            return;
        }

        var known = PlanValidation.Check(before).Select(p => p.Message).ToHashSet();
        if (problems.FirstOrDefault(p => !known.Contains(p.Message)) is { Message: { } message, Field: { } field })
        {
            throw new PlanEditException(field, message);
        }
    }

    /// <summary>The plan after it, not judged yet.</summary>
    private Plan Made(Plan plan) => PlanMerge.Follow(plan, PlanNames.Resolve(Change(plan)));

    /// <summary>The change proper.</summary>
    protected abstract Plan Change(Plan plan);

    /// <summary>The plan with one layer changed.</summary>
    /// <exception cref="PlanEditException">There is no such layer.</exception>
    protected static Plan ChangeLayer(Plan plan, string name, Func<LayerPlan, LayerPlan> change)
    {
        int index = plan.Layers.ToList().FindIndex(l => l.Name == name);
        return index >= 0
            ? plan with
            {
                Layers = plan.Layers.SetItem(index, change(plan.Layers[index])),
            }
            : throw new PlanEditException("layer", $"There is no layer {name} any more; somebody may have renamed it.");
    }

    /// <summary>The named layers, or all of them when none is named.</summary>
    protected static ImmutableArray<string> Named(Plan plan, ImmutableArray<string> layers) =>
        layers.IsDefaultOrEmpty ? [.. plan.Layers.Select(l => l.Name)] : layers;

    /// <summary>"sub", "sub and kelp", "5 layers".</summary>
    protected static string Listed(ImmutableArray<string> names, string none) =>
        names.IsDefaultOrEmpty ? none
        : names.Length <= 2 ? string.Join(" and ", names)
        : $"{names.Length} layers";

    /// <summary>Refuses more cells than are written at once.</summary>
    protected static void CheckCount(int cells)
    {
        if (cells > PlanLimits.MaxCells)
        {
            throw new PlanEditException(
                "cells",
                $"{cells:N0} cells are more than the {PlanLimits.MaxCells:N0} that are written at once. Paste them in parts."
            );
        }
    }

    /// <summary>Several changes as one.</summary>
    internal static Plan Through(Plan plan, IEnumerable<PlanEdit> edits) => edits.Aggregate(plan, (p, edit) => edit.Made(p));
}

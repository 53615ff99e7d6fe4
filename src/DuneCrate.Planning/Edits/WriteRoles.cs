using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Writes cells of the role grid.</summary>
public sealed record WriteRoles(ImmutableArray<RoleText> Cells) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description =>
        Cells is [var one] ? $"{one.Item} {(one.Text.Length == 0 ? "shown" : one.Text)} in {one.Layer}" : $"{Cells.Length} roles changed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        CheckCount(Cells.Length);
        return SetRoles.Write(
            plan,
            Cells.Select(c =>
                (
                    c.Item,
                    c.Layer,
                    ItemRoles.Find(c.Text)
                        ?? throw new PlanEditException(
                            "cell",
                            $"'{c.Text}' is not a role; write {string.Join(", ", Enum.GetValues<ItemRole>().Select(ItemRoles.Words))}."
                        )
                )
            )
        );
    }
}

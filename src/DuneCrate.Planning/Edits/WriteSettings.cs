using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Writes cells of the grid of render settings.</summary>
public sealed record WriteSettings(ImmutableArray<SettingText> Cells) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description =>
        Cells is [var one]
            ? $"{one.Name} of {one.Layer} set to {(one.Text.Length == 0 ? "the show's" : one.Text)}"
            : $"{Cells.Length} render settings changed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        CheckCount(Cells.Length);
        return Through(plan, Cells.Select(c => new SetSettings([c.Layer], c.Name, c.Text)));
    }
}

using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Edits;

/// <summary>Writes cells of the pass sheet: planning, taking out, switching off, types, pasting and filling are all this.</summary>
public sealed record WriteCells(ImmutableArray<CellText> Cells) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description =>
        Cells is [var one]
            ? $"{one.Pass} of {one.Layer} {(one.Text.Length == 0 ? "taken out" : $"set to {one.Text}")}"
            : $"{Cells.Length} cells changed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        CheckCount(Cells.Length);
        foreach (CellText cell in Cells)
        {
            string pass =
                plan.Catalogue.KeyOf(cell.Pass)
                ?? throw new PlanEditException("pass", PlanValidation.UnknownPass(cell.Pass, plan.Catalogue));

            if (!SheetCell.TryParse(cell.Text, out SheetCell value, out string? problem))
            {
                throw new PlanEditException("cell", $"{cell.Pass} of {cell.Layer}: {problem}");
            }

            plan = ChangeLayer(plan, cell.Layer, layer => PassSheet.Write(plan, layer, pass, value));
        }

        return plan;
    }
}

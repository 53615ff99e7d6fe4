using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>The pass sheet on one page of paper.</summary>
public sealed class PrintModel(ShotViews views, StorageRoots roots) : PlanPage(views, roots)
{
    /// <inheritdoc/>
    public override string Part => "print";

    /// <summary>The passes in use.</summary>
    public IEnumerable<string> Rows => SheetTable.Rows(View.Plan);

    /// <summary>A cell in a few signs.</summary>
    public string Cell(LayerPlan layer, string pass)
    {
        SheetCell cell = PassSheet.Read(View.Plan, layer, pass);
        return cell with { Home = cell.Home == PassHome.Shared ? null : cell.Home } is var shown && shown.IsPlanned ? shown.ToString() : "";
    }

    /// <summary>Shows the page.</summary>
    public void OnGet() { }
}

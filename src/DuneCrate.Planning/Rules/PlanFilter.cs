using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Rules;

/// <summary>A data or identity pass planned filtered: a filtered distance is where nothing is, a filtered id belongs to nothing.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanFilter : PlanRule
{
    public override string Id => "plan.filter";

    public override string Title => "Filtered data";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A filtered data or identity pass";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        foreach (LayerPlan layer in context.Layers)
        {
            foreach (PassPlan pass in layer.Passes.Where(p => context.Plan.Catalogue.Find(p.Pass)?.IsExact == true))
            {
                bool byCell = pass.Filtered == true;
                string? filter = RenderSettings.Value(context.Plan, layer, "filter_data");
                if (byCell)
                {
                    yield return Found(
                        layer.Name,
                        pass.Pass,
                        "filter",
                        $"{pass.Pass} of {layer.Name} is planned filtered: at edges it will hold values that belong to nothing.",
                        "Leave the filter out.",
                        new WriteCells([
                            new CellText(
                                layer.Name,
                                pass.Pass,
                                (PassSheet.Read(context.Plan, layer, pass.Pass) with { Filtered = null }).ToString()
                            ),
                        ])
                    );
                }
                else if (filter is not null && filter is not ("none" or "closest" or "box 1"))
                {
                    yield return Found(
                        layer.Name,
                        pass.Pass,
                        "filter",
                        $"{layer.Name} renders data through the pixel filter {filter}: {pass.Pass} will hold values at edges that "
                            + $"belong to nothing.",
                        "Set the pixel filter of data to none.",
                        new SetSettings([layer.Name], "filter_data", "none")
                    );
                    break;
                }
            }
        }
    }
}

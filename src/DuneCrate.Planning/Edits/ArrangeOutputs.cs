using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Edits;

/// <summary>Spreads the passes of some layers, or of all of them, over files.</summary>
public sealed record ArrangeOutputs(ImmutableArray<string> Layers, OutputArrangement Arrangement) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => $"{Listed(Layers, "all layers")} arranged as {Words(Arrangement)}";

    /// <summary>For people.</summary>
    public static string Words(OutputArrangement arrangement) =>
        arrangement switch
        {
            OutputArrangement.Shared => "one multi-channel file",
            OutputArrangement.DataApart => "colour, and data apart",
            OutputArrangement.PerPass => "a file per pass",
            _ => "arranged by hand",
        };

    /// <summary>How a layer is arranged.</summary>
    public static OutputArrangement From(Plan plan, LayerPlan layer)
    {
        PassHome[] homes = [.. layer.Outputs.Select(o => PassSheet.HomeOf(layer, o))];
        return homes switch
        {
            [PassHome.Own] => OutputArrangement.PerPass,
            [] or [PassHome.Shared] => OutputArrangement.Shared,
            [PassHome.Shared, PassHome.Data]
            or [PassHome.Data]
                when layer.Outputs.All(o => o.Passes.All(p => IsExact(plan, p) == (PassSheet.HomeOf(layer, o) == PassHome.Data))) =>
                OutputArrangement.DataApart,
            _ => OutputArrangement.Mixed,
        };
    }

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        if (Arrangement == OutputArrangement.Mixed)
        {
            throw new PlanEditException("arrangement", "Arrange by hand in the cells of the pass sheet: shared, data or own.");
        }

        foreach (string name in Named(plan, Layers))
        {
            plan = ChangeLayer(
                plan,
                name,
                layer =>
                {
                    foreach (PassPlan pass in layer.AllPasses.ToArray())
                    {
                        PassHome home = Arrangement switch
                        {
                            OutputArrangement.PerPass => PassHome.Own,
                            OutputArrangement.DataApart when IsExact(plan, pass) => PassHome.Data,
                            _ => PassHome.Shared,
                        };
                        SheetCell cell = PassSheet.Read(plan, layer, pass.Pass) with { Home = home };
                        layer = PassSheet.Write(plan, layer, pass.Pass, home == PassHome.Own ? cell : cell with { Frames = null });
                    }

                    return layer;
                }
            );
        }

        return plan;
    }

    private static bool IsExact(Plan plan, PassPlan pass) => plan.Catalogue.Find(pass.Pass)?.Kind is PassKind.Data or PassKind.Identity;
}

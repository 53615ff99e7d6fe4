using System.Collections.Immutable;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Estimates;

/// <summary>A way to spread the passes of all layers over files, and what it would come to.</summary>
/// <param name="Way">The way.</param>
/// <param name="About">What speaks for and against it.</param>
/// <param name="Edit">The change that makes it so.</param>
/// <param name="Estimate">Files and bytes.</param>
/// <param name="IsNow">Whether every layer is arranged so.</param>
public sealed record ArrangementOption(OutputArrangement Way, string About, ArrangeOutputs Edit, PlanEstimate Estimate, bool IsNow)
{
    private static readonly (OutputArrangement Way, string About)[] Ways =
    [
        (OutputArrangement.Shared, "one thing to name, move and count; every read of one pass pays for opening the whole"),
        (OutputArrangement.DataApart, "half colour in one file, float data and ids in another"),
        (OutputArrangement.PerPass, "plays back at once and shows without extraction; more files to lose"),
    ];

    /// <summary>The ways there are.</summary>
    public static ImmutableArray<ArrangementOption> Compute(Plan plan) =>
        [
            .. Ways.Select(w => (w.Way, w.About, Edit: new ArrangeOutputs([], w.Way)))
                .Select(w => new ArrangementOption(
                    w.Way,
                    w.About,
                    w.Edit,
                    PlanEstimate.Compute(w.Edit.Apply(plan)),
                    plan.Layers.All(l => ArrangeOutputs.From(plan, l) == w.Way)
                )),
        ];
}

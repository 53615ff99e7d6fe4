using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Rules;

/// <summary>
/// Light passes that do not make up the beauty: a term of the family that they fit is not planned, a term is off, or two families are
/// mixed,
/// which counts light twice.
/// </summary>
/// <remarks>Source: light is additive; common practice.</remarks>
public sealed class PlanRebuild : PlanRule
{
    public override string Id => "plan.rebuild";

    public override string Title => "Light passes are incomplete";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Terms of the sum missing, or families mixed";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        foreach (LayerPlan layer in context.Layers)
        {
            string[] planned = [.. layer.AllPasses.Select(p => p.Pass)];
            if (RebuildSum.MixedIn(context.Plan.Catalogue, layer.Rebuild) is { } mixed)
            {
                var proposal = RebuildSum.Propose(context.Plan.Catalogue, planned);
                yield return Found(
                    layer.Name,
                    layer.Rebuild[0].Factors[0],
                    "rebuild",
                    $"The sum of {layer.Name} counts light twice: {mixed.Coarser} and {mixed.Finer} hold the same share of it.",
                    $"Sum {string.Join(" + ", proposal)}.",
                    new SetLayer(layer.Name) { Rebuild = string.Join(" + ", proposal) }
                );
                continue;
            }

            if (layer.Rebuild.SelectMany(t => t.Factors).Where(f => layer.FindPass(f)?.Off == true).ToArray() is { Length: > 0 } off)
            {
                yield return Found(
                    layer.Name,
                    off[0],
                    "rebuild",
                    $"{Words.List(off)} of {layer.Name} {Words.Are(off.Length)} switched off, so the beauty cannot be proved.",
                    $"Switch {Words.Them(off.Length)} on, or leave the sum unproved for this render.",
                    new WriteCells([
                        .. off.Select(p => new CellText(
                            layer.Name,
                            p,
                            (PassSheet.Read(context.Plan, layer, p) with { IsOff = false }).ToString()
                        )),
                    ])
                );
                continue;
            }

            string[] missing = RebuildSum.MissingIn(context.Plan, layer);
            if (missing.Length > 0)
            {
                yield return Found(
                    layer.Name,
                    missing[0],
                    "rebuild",
                    $"The light passes of {layer.Name} do not make a whole: {Words.List(missing)} {Words.Are(missing.Length)} not "
                        + $"planned, and the scene has what fills {Words.Them(missing.Length)}.",
                    $"Plan {Words.List(missing)}.",
                    new WriteCells([.. missing.Select(p => new CellText(layer.Name, p, "x"))])
                );
            }
        }
    }
}

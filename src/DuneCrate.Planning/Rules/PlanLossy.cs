using DuneCrate.Exr;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Rules;

/// <summary>Lossy compression on data or identity passes: their values are not colours and must stay exact.</summary>
/// <remarks>Source: OpenEXR, Data compression.</remarks>
public sealed class PlanLossy : PlanRule
{
    public override string Id => "plan.lossy";

    public override string Title => "Lossy compression on exact values";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Lossy compression on data or identity passes";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from layer in context.Layers
        from output in layer.Outputs
        let format = FileFormat.FromName(output.Template)
        let packing = format is null or { Key: "exr" } ? output.Compression : format.Name
        where format is { IsLossy: true } || (packing == output.Compression && ExrCompression.Find(packing)?.IsLossy == true)
        let exact = output.Passes.Where(p => !p.Off && context.Plan.Catalogue.Find(p.Pass)?.IsExact == true).Select(p => p.Pass).ToArray()
        where exact.Length > 0
        select Found(
            layer.Name,
            exact[0],
            format is { IsLossy: true } ? "template" : "compression",
            $"{packing} changes values, and {Words.List(exact)} of {layer.Name} must stay exact.",
            format is { IsLossy: true } ? "Write OpenEXR, PNG or TIFF." : "Pack them with zip, or split data off into a file of its own.",
            format is { IsLossy: true } ? null : new SetOutputs([layer.Name], PassSheet.HomeOf(layer, output)) { Compression = "zip" }
        );
}
